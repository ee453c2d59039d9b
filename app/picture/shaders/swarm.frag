#version 330 core
in vec3 place, facing;
in vec4 tint;
uniform vec3 eye, sun, sunLight, zenith, horizon, groundColour;
uniform float exposure, metal, roughness, flat_, through, ghost;
out vec4 result;

vec3 sky(vec3 direction) {
    float up = sqrt(clamp(direction.y, 0, 1));
    vec3 below = groundColour * (0.3 * sunLight + 0.5 * zenith);
    return mix(mix(horizon, zenith, up), below, smoothstep(0.05, -0.35, direction.y));
}

// A ghost is seen through: only so many of every sixteen pixels are drawn.
const float order[16] = float[](0, 8, 2, 10, 12, 4, 14, 6, 3, 11, 1, 9, 15, 7, 13, 5);

void main() {
    if (ghost > 0 && order[(int(gl_FragCoord.y) & 3) * 4 + (int(gl_FragCoord.x) & 3)] >= ghost * 7.0) discard;
    vec3 n = normalize(facing), v = normalize(eye - place);
    if (dot(n, v) < 0) n = -n;
    vec3 h = normalize(sun + v);
    float nl = max(dot(n, sun), 0), nv = max(dot(n, v), 0.02), nh = max(dot(n, h), 0);
    float alpha = max(roughness * roughness, 0.02), a2 = alpha * alpha;
    float d = nh * nh * (a2 - 1) + 1;
    vec3 head = mix(vec3(0.04), tint.rgb, metal);
    float graze = 1 - nv, graze2 = graze * graze;
    vec3 fresnel = head + (1 - head) * (graze2 * graze2 * graze) * (1 - 0.7 * roughness);
    float shine = min(a2 / (d * d) / (4 * max(nl, nv)), 12);
    vec3 ambient = mix(sky(n), (horizon + zenith) * 0.35, 0.35);
    vec3 matt = tint.rgb * (1 - metal) * (sunLight * nl + ambient * 0.85);
    vec3 mirror = reflect(-v, n);
    vec3 around = mix(sky(mirror), sky(n) * 0.8, roughness * roughness);
    vec3 light = matt + fresnel * (sunLight * nl * shine + around);
    light = mix(light, tint.rgb * (0.55 + 0.45 * nl + 0.15 * n.y), flat_);
    if (ghost > 0) light = vec3(0.82, 0.75, 0.62) * (0.35 + 0.65 * max(n.y, nl));
    light *= exposure;
    vec3 low = light * 12.92, high = 1.055 * pow(max(light, 1e-6), vec3(1 / 2.4)) - 0.055;
    result = vec4(clamp(mix(low, high, step(0.0031308, light)), 0, 1), mix(1, tint.a, through));
}
