uniform mat4 toClip;
uniform vec3 middle;
uniform float height, reach;
out vec3 place;
out vec2 fromMiddle;                  // in reaches
flat out vec3 sent, mirrored, floorColour;  // of what comes from everywhere

void main() {
    vec2 corners[6] = vec2[](vec2(-1, -1), vec2(1, -1), vec2(1, 1), vec2(-1, -1), vec2(1, 1), vec2(-1, 1));
    fromMiddle = corners[gl_VertexID] * 5;
    vec2 c = fromMiddle * reach + middle.xz;
    place = vec3(c.x, height, c.y);
    handOn(place);
    vec3 up = vec3(0, 1, 0);
    sent = max(ambientEven(up) + ambientOdd(up), 0) * 0.9 * groundColour;
    mirrored = mix(horizon, zenith, 0.5) * 0.5;
    floorColour = groundColour;
    gl_Position = toClip * vec4(place, 1);
}
