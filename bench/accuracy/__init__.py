"""How right a comparison is, against made-up dancers whose truth is known."""
