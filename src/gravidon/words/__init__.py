"""All that is said about a plan: message tables without Qt, ready for translation."""
