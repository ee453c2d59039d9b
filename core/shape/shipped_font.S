/* The font that lettering falls back to, as bytes of the program. */
    .section .rodata
    .global gswarmShippedFont
    .global gswarmShippedFontEnd
    .balign 16
gswarmShippedFont:
    .incbin GSWARM_SHIPPED_FONT
gswarmShippedFontEnd:
    .section .note.GNU-stack,"",@progbits
