"""Plain geometry of the pictures in millimetres: no painting, no Qt."""
