/* The surroundings that come along, as bytes of the program; scripts/make-surroundings makes them. */
    .section .rodata
    .global gswarmSoftBoxes
    .global gswarmSoftBoxesEnd
    .global gswarmHarbour
    .global gswarmHarbourEnd
    .global gswarmMorning
    .global gswarmMorningEnd
    .balign 16
gswarmSoftBoxes:
    .incbin "soft-boxes.exr"
gswarmSoftBoxesEnd:
gswarmHarbour:
    .incbin "harbour.exr"
gswarmHarbourEnd:
gswarmMorning:
    .incbin "morning.exr"
gswarmMorningEnd:
    .section .note.GNU-stack,"",@progbits
