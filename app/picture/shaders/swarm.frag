#version 330 core
in vec3 place, facing;
in vec4 tint;
in vec3 meshTint;
in float mixed;
flat in int number;
uniform vec3 eye, sun, sunLight, zenith, horizon, groundColour;
uniform float exposure, soft, flat_, through, ghost, dimmed;
// Two materials, and what mixes them: metal, roughness, clearness, strength of light in its own colour; light of another colour;
// coat and its roughness, bloom of fibres and its roughness; their colour; light of the rim and its power; opacity there, or -1.
uniform vec4 surface[2], glow[2], layers[2], fibres[2], rim[2], edge[2], secondColour;
uniform float mixedByFacing, facingTable[17];
uniform int lampCount;
uniform vec4 lampPlace[16], lampLight[16], lampAlong[16];
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

vec3 sky(vec3 direction) {
    float up = sqrt(clamp(direction.y, 0, 1));
    vec3 below = groundColour * (0.3 * sunLight + 0.5 * zenith);
    return mix(mix(horizon, zenith, up), below, smoothstep(0.05, -0.35, direction.y));
}

// A ghost is seen through: only so many of every sixteen pixels are drawn.
const float order[16] = float[](0, 8, 2, 10, 12, 4, 14, 6, 3, 11, 1, 9, 15, 7, 13, 5);

float shine(float nh, float nl, float nv, float roughness) {
    float alpha = max(roughness * roughness, 0.02), a2 = alpha * alpha;
    float d = nh * nh * (a2 - 1) + 1;
    return min(a2 / (d * d) / (4 * max(nl, nv)), 12);
}

vec3 towardEye() { return looks.w > 0 ? -looks.xyz : normalize(eye - place); }
float distanceToEye() { return looks.w > 0 ? dot(place - eye, looks.xyz) : length(eye - place); }

void main() {
    if (ghost > 0 && order[(int(gl_FragCoord.y) & 3) * 4 + (int(gl_FragCoord.x) & 3)] >= ghost * 7.0) discard;
    vec3 n = normalize(facing), v = towardEye();
    if (dot(n, v) < 0) n = -n;
    float nv = max(dot(n, v), 0.02), graze = 1 - nv;
    float k = mixed;
    if (mixedByFacing > 0) {
        float at = clamp(nv, 0, 1) * 16;
        int cell = min(int(at), 15);
        k = mix(facingTable[cell], facingTable[cell + 1], at - float(cell));
    }
    vec4 colour = mix(tint, vec4(secondColour.rgb * meshTint, secondColour.a), k);
    vec4 made = mix(surface[0], surface[1], k), layer = mix(layers[0], layers[1], k);
    float metal = made.x, roughness = made.y;
    float graze2 = graze * graze, graze5 = graze2 * graze2 * graze;
    vec3 head = mix(vec3(0.04), colour.rgb, metal);
    vec3 fresnel = head + (1 - head) * graze5 * (1 - 0.7 * roughness);
    float coatShare = layer.x * (0.04 + 0.96 * graze5);
    vec3 ambient = mix(sky(n), (horizon + zenith) * 0.35, 0.35);
    vec3 mirror = reflect(-v, n);
    vec3 around = mix(sky(mirror), sky(n) * 0.8, roughness * roughness);
    float lit = max(dot(n, sun), 0);
    vec3 matt = sunLight * lit, glossy = vec3(0), coating = vec3(0);
    if (lit > 0) {
        float nh = max(dot(n, normalize(sun + v)), 0);
        glossy = sunLight * lit * shine(nh, lit, nv, roughness);
        if (layer.x > 0) coating = sunLight * lit * shine(nh, lit, nv, layer.y);
    }
    for (int i = 0; i < lampCount; ++i) {
        vec3 way = lampPlace[i].xyz - place;
        float d2 = max(dot(way, way), 1e-4);
        way *= inversesqrt(d2);
        float nl = dot(n, way);
        if (nl <= 0) continue;
        float form = lampPlace[i].w, along = -dot(way, lampAlong[i].xyz), share = 1;
        if (form > 1.5) share = form > 2.5 ? abs(along) : max(along, 0);
        else if (form > -1.5) share = smoothstep(form, lampAlong[i].w, along);
        if (lampLight[i].w > 0) {
            float far = d2 / (lampLight[i].w * lampLight[i].w), window = clamp(1 - far * far, 0, 1);
            share *= window * window;
        }
        // Sunlight is what white paper sends back; a lamp's is spread over all directions first.
        vec3 light = lampLight[i].rgb * (share * nl / d2 / 3.14159265);
        float nh = max(dot(n, normalize(way + v)), 0);
        matt += light;
        glossy += light * shine(nh, nl, nv, roughness);
        if (layer.x > 0) coating += light * shine(nh, nl, nv, layer.y);
    }
    vec3 light = colour.rgb * (1 - metal) * (matt + ambient * 0.85) * (1 - 0.6 * made.z) + fresnel * (glossy + around);
    light = light * (1 - coatShare) + coating * (0.04 * layer.x) + sky(mirror) * coatShare;
    light += mix(fibres[0], fibres[1], k).rgb * (layer.z * pow(graze, mix(4, 1.2, layer.w)) * (0.5 * matt + 0.5 * ambient));
    vec4 rims = mix(rim[0], rim[1], k);
    float edged = pow(graze, max(rims.w, 0.5));
    light += mix(colour.rgb * surface[0].w + glow[0].rgb, colour.rgb * surface[1].w + glow[1].rgb, k) + rims.rgb * edged;
    light = mix(light, colour.rgb * (0.55 + 0.45 * lit + 0.15 * n.y), flat_);
    if (ghost > 0) light = vec3(0.82, 0.75, 0.62) * (0.35 + 0.65 * max(n.y, lit));
    float opacity = colour.a;
    float rimOpacity = mix(edge[0].x, edge[1].x, k);
    if (rimOpacity >= 0) opacity = mix(opacity, rimOpacity, edged);
    // What is clear shows itself by what it mirrors and by its edge.
    opacity *= 1 - made.z * (1 - clamp(0.22 + graze5 + roughness * 0.45, 0, 1));
    if (dimmed > 0) opacity = tint.a;
    if (linear_ > 0) {
        vec3 flat_n = n / (abs(n.x) + abs(n.y) + abs(n.z));
        vec2 folded = flat_n.z >= 0 ? flat_n.xy : (1 - abs(flat_n.yx)) * vec2(flat_n.x < 0 ? -1 : 1, flat_n.y < 0 ? -1 : 1);
        guide = vec4(folded, distanceToEye(), number);
        result = vec4(light, mix(1, opacity, through));
        return;
    }
    light *= exposure;
    if (soft > 0) light = softened(light);
    vec3 low = light * 12.92, high = 1.055 * pow(max(light, 1e-6), vec3(1 / 2.4)) - 0.055;
    result = vec4(clamp(mix(low, high, step(0.0031308, light)), 0, 1), mix(1, opacity, through));
}
