/* The shaders, as text of the program. */
    .section .rodata
    .macro shader name, file
    .global \name
    .global \name\()End
\name:
    .incbin "\file"
\name\()End:
    .byte 0
    .endm
    shader gswarmCommonGlsl, common.glsl
    shader gswarmSwarmVert, swarm.vert
    shader gswarmSwarmFrag, swarm.frag
    shader gswarmGroundVert, ground.vert
    shader gswarmGroundFrag, ground.frag
    shader gswarmShadowVert, shadow.vert
    shader gswarmShadowFrag, shadow.frag
    .section .note.GNU-stack,"",@progbits
