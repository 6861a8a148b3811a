"""What music tells of counts: its onsets, tempo, beats, where a routine may begin, and taps along with it."""
