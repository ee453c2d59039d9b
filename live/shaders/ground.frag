in vec3 place;
in vec2 fromMiddle;
flat in vec3 sent, mirrored, floorColour;
uniform vec3 background;
layout(location = 0) out vec4 result;
#ifdef GUIDED
layout(location = 1) out vec4 guide;
#endif
#ifdef DISTANT
layout(location = 1) out float guide;
#endif

void main() {
    vec3 v = towardEye(), up = vec3(0, 1, 0);
    float nv = max(v.y, 0.02), graze = 1 - nv, graze5 = graze * graze * graze * graze * graze;
    // Where it is seen at a low angle even a dull floor mirrors.
    float mirrors = 0.04 + 0.96 * graze5 * (1 - 0.7 * 0.9);
    vec3 light = sent + mirrored * mirrors;
#ifdef AROUND
    light += aroundRough(reflect(-v, up), 0.9) * mirrors * 0.6;
#endif
    Arriving all = arriving(place, up, v, nv, 0.9, 1);
    light += all.matt * floorColour + all.glossy * 0.04 + all.grazing * 0.96;
    // Fades into the background, so that it has no edge.
    float fade = clamp((length(fromMiddle) - 1) / 3, 0, 1);
#ifdef GUIDED
    guide = vec4(0, 1, distanceToEye(), 0);  // +Y on the octahedral map
#endif
#ifdef DISTANT
    guide = distanceToEye();
#endif
#ifdef LAYERED
    result = vec4(light * (1 - fade), 1 - fade);
#else
    result = vec4(displayed(mix(light, background, fade)), 1);
#endif
}
