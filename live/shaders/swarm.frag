in vec3 place, facing;
in vec4 tint;
#ifdef MIXED
in vec3 meshTint;
in float mixed;
uniform vec4 secondColour;
uniform float mixedByFacing, facingTable[17];
#endif
#ifdef LAYERED
flat in int number;
layout(location = 1) out vec4 guide;
#endif
uniform float flat_, through, dimmed;
// Two materials, and what mixes them: metal, roughness, clearness, strength of light in its own colour; light of another colour;
// coat and its roughness, bloom of fibres and its roughness; their colour; light of the rim and its power; opacity there, or -1.
uniform vec4 surface[2], glow[2], layers[2], fibres[2], rim[2], edge[2];
uniform int lampCount;
uniform vec4 lampPlace[16], lampLight[16], lampAlong[16];
layout(location = 0) out vec4 result;

vec3 sky(vec3 direction) {
    float up = sqrt(clamp(direction.y, 0, 1));
    vec3 below = groundColour * (0.3 * sunLight[0] + 0.5 * zenith);
    return mix(mix(horizon, zenith, up), below, smoothstep(0.05, -0.35, direction.y));
}

#ifdef GHOST
// It is seen through: only so many of every sixteen pixels are drawn. (Where nothing is discarded, depth is looked at first.)
uniform float ghost;
const float order[16] = float[](0, 8, 2, 10, 12, 4, 14, 6, 3, 11, 1, 9, 15, 7, 13, 5);
#endif

void main() {
#ifdef GHOST
    if (order[(int(gl_FragCoord.y) & 3) * 4 + (int(gl_FragCoord.x) & 3)] >= ghost * 7.0) discard;
#endif
    vec3 n = normalize(facing), v = towardEye(place);
    if (dot(n, v) < 0) n = -n;
    float nv = max(dot(n, v), 0.02), graze = 1 - nv;
#ifdef MIXED
    float k = mixed;
    if (mixedByFacing > 0) {
        float at = clamp(nv, 0, 1) * 16;
        int cell = min(int(at), 15);
        k = mix(facingTable[cell], facingTable[cell + 1], at - float(cell));
    }
    vec4 colour = mix(tint, vec4(secondColour.rgb * meshTint, secondColour.a), k);
#define OF(values) mix(values[0], values[1], k)
#else
    vec4 colour = tint;
#define OF(values) values[0]
#endif
    vec4 made = OF(surface), layer = OF(layers);
    // Where a pixel sees many normals their spread is roughness (Tokuyoshi and Kaplanyan 2019): far edges would sparkle.
    vec3 across = dFdx(n), along_ = dFdy(n);
    float spread = min(0.5 * (dot(across, across) + dot(along_, along_)), 0.18);
    float metal = made.x, roughness = sqrt(sqrt(min(made.y * made.y * made.y * made.y + spread, 1)));
    float graze2 = graze * graze, graze5 = graze2 * graze2 * graze;
    vec3 head = mix(vec3(0.04), colour.rgb, metal);
    vec3 fresnel = head + (1 - head) * graze5 * (1 - 0.7 * roughness);
    vec3 ambient = mix(sky(n), (horizon + zenith) * 0.35, 0.35);
    vec3 mirror = reflect(-v, n);
    vec3 around = mix(sky(mirror), sky(n) * 0.8, roughness * roughness);
#ifdef COATED
    vec3 coated = sky(mirror);
#endif
#ifdef AROUND
    ambient += aroundMatt(n);
    around += aroundRough(mirror, roughness);
#ifdef COATED
    coated += aroundRough(mirror, layer.y);
#endif
#endif
    vec3 matt = vec3(0), glossy = vec3(0), coating = vec3(0);
    float lit = 0;
    for (int i = 0; i < sunCount; ++i) {
        float nl = dot(n, sunToward[i]);
        if (nl <= 0) continue;
        float reaching = i == 0 ? sunReaching(place, n, nl) : 1;
        vec3 light = sunLight[i] * (nl * reaching);
        float nh = max(dot(n, normalize(sunToward[i] + v)), 0);
        lit = max(lit, nl);
        matt += light;
        glossy += light * shine(nh, nl, nv, roughness);
#ifdef COATED
        coating += light * shine(nh, nl, nv, layer.y);
#endif
    }
#ifdef LAMPS
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
#ifdef COATED
        coating += light * shine(nh, nl, nv, layer.y);
#endif
    }
#endif
    vec3 light = colour.rgb * (1 - metal) * (matt + ambient * 0.85) * (1 - 0.6 * made.z) + fresnel * (glossy + around);
#ifdef COATED
    float coatShare = layer.x * (0.04 + 0.96 * graze5);
    light = light * (1 - coatShare) + coating * (0.04 * layer.x) + coated * coatShare;
    light += OF(fibres).rgb * (layer.z * pow(graze, mix(4, 1.2, layer.w)) * (0.5 * matt + 0.5 * ambient));
#endif
    light += colour.rgb * made.w + OF(glow).rgb;
#ifdef RIMMED
    vec4 rims = OF(rim);
    float edged = pow(graze, max(rims.w, 0.5));
    light += rims.rgb * edged;
#endif
    light = mix(light, colour.rgb * (0.55 + 0.45 * lit + 0.15 * n.y), flat_);
#ifdef GHOST
    light = vec3(0.82, 0.75, 0.62) * (0.35 + 0.65 * max(n.y, lit));
#endif
    float opacity = colour.a;
#ifdef RIMMED
    float rimOpacity = OF(edge).x;
    if (rimOpacity >= 0) opacity = mix(opacity, rimOpacity, edged);
#endif
    // What is clear shows itself by what it mirrors and by its edge.
    opacity *= 1 - made.z * (1 - clamp(0.22 + graze5 + roughness * 0.45, 0, 1));
    if (dimmed > 0) opacity = tint.a;
#ifdef LAYERED
    vec3 flat_n = n / (abs(n.x) + abs(n.y) + abs(n.z));
    vec2 folded = flat_n.z >= 0 ? flat_n.xy : (1 - abs(flat_n.yx)) * vec2(flat_n.x < 0 ? -1 : 1, flat_n.y < 0 ? -1 : 1);
    guide = vec4(folded, distanceToEye(place), number);
    result = vec4(light, mix(1, opacity, through));
#else
    result = vec4(displayed(light), mix(1, opacity, through));
#endif
}
