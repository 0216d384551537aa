"""What comes of a plan: from the document to arrays over its conditions."""
