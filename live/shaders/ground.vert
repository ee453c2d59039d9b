uniform mat4 toClip;
uniform vec3 middle;
uniform float height, reach;
out vec3 place;

void main() {
    vec2 corners[6] = vec2[](vec2(-1, -1), vec2(1, -1), vec2(1, 1), vec2(-1, -1), vec2(1, 1), vec2(-1, 1));
    vec2 c = corners[gl_VertexID] * reach * 5 + middle.xz;
    place = vec3(c.x, height, c.y);
    gl_Position = toClip * vec4(place, 1);
}
