"""Records of the shelf as forms: fields with plain words, shown and read in the user's units."""
