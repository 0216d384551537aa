"""The shop sheet as PDF and HTML."""
