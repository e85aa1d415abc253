"""QR codes by ISO/IEC 18004: how one is designed, drawn, and judged. Lengths are modules, the dark or light squares
that a code is made of, unless something else is said. The symbol itself is worked out elsewhere and passed in."""
