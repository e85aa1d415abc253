"""QR codes: the symbol (segno), what is drawn of a design, the files that are written, and the proof that it scans."""
