"""Choices of the oil's way home: places on the pan, limits of attitude, drives."""
