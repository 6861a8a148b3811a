"""What the browser speaks to: routes, and the shapes that go over them. Every number in them was computed in Python."""
