"""Faults on purpose, seeded: kills, races, damaged clips, odd requests. A little of each in the tests, all of it by
`make faults`."""
