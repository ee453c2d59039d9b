#version 330 core
in vec3 place;
uniform vec3 eye, sun, sunLight, zenith, horizon, background, groundColour, middle;
uniform float exposure, soft, reach;
uniform vec4 looks;  // the way of looking; w is 1 where rays are parallel
uniform float linear_;  // 1: light and coverage as they are, for what comes after
layout(location = 0) out vec4 result;
layout(location = 1) out vec4 guide;

// The Khronos PBR Neutral tone mapper, as core/picture/view.cpp has it.
vec3 softened(vec3 c) {
    float least = min(c.r, min(c.g, c.b));
    c -= least < 0.08 ? least - 6.25 * least * least : 0.04;
    float peak = max(c.r, max(c.g, c.b));
    if (peak < 0.76) return c;
    float newPeak = 1 - 0.0576 / (peak + 0.24 - 0.76);
    return mix(c * (newPeak / peak), vec3(newPeak), 1 - 1 / (0.15 * (peak - newPeak) + 1));
}

vec3 towardEye() { return looks.w > 0 ? -looks.xyz : normalize(eye - place); }
float distanceToEye() { return looks.w > 0 ? dot(place - eye, looks.xyz) : length(eye - place); }

void main() {
    vec3 light = groundColour * (sunLight * max(sun.y, 0) + mix(horizon, zenith, 0.7) * 0.85);
    // Where it is seen at a low angle even a dull floor mirrors the sky.
    float graze = 1 - max(towardEye().y, 0);
    light += mix(horizon, zenith, 0.5) * (0.2 * (0.04 + 0.96 * graze * graze * graze * graze * graze));
    // Fades into the background, so that it has no edge.
    float fade = clamp((length(place.xz - middle.xz) - reach) / (3 * reach), 0, 1);
    guide = vec4(0, 0, distanceToEye(), 0);
    guide.xy = vec2(0, 1);  // +Y on the octahedral map
    if (linear_ > 0) {
        result = vec4(light * (1 - fade), 1 - fade);
        return;
    }
    light = mix(light, background, fade) * exposure;
    if (soft > 0) light = softened(light);
    vec3 low = light * 12.92, high = 1.055 * pow(max(light, 1e-6), vec3(1 / 2.4)) - 0.055;
    result = vec4(clamp(mix(low, high, step(0.0031308, light)), 0, 1), 1);
}
