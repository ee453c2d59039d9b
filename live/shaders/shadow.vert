layout(location = 0) in vec3 position;
layout(location = 2) in vec4 row0;
layout(location = 3) in vec4 row1;
layout(location = 4) in vec4 row2;
uniform mat4 toLight;  // with the pose of what is drawn

void main() {
    vec4 p = vec4(position, 1);
    gl_Position = toLight * vec4(dot(row0, p), dot(row1, p), dot(row2, p), 1);
}
