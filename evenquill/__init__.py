"""Even Quill: rebuilds PDFs as editable word-processor files and helps a clerk correct and deliver them."""
