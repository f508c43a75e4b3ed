"""The reader of scans and photos: a picture of a page -> cleaned, taken apart, recognised, measured."""
