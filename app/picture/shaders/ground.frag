#version 330 core
in vec3 place;
uniform vec3 eye, sun, sunLight, zenith, horizon, background, groundColour, middle;
uniform float exposure, reach;
out vec4 result;

void main() {
    vec3 light = groundColour * (sunLight * max(sun.y, 0) + mix(horizon, zenith, 0.7) * 0.85);
    // Fades into the background, so that it has no edge.
    float fade = clamp((length(place.xz - middle.xz) - reach) / (3 * reach), 0, 1);
    light = mix(light, background, fade) * exposure;
    vec3 low = light * 12.92, high = 1.055 * pow(max(light, 1e-6), vec3(1 / 2.4)) - 0.055;
    result = vec4(clamp(mix(low, high, step(0.0031308, light)), 0, 1), 1);
}
