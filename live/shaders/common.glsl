// What is not needed is left out when it is compiled: software renderers go through both sides of every branch.
// SUNS: how many. SHADOWS, AROUND, LAMPS, LAMP_SHADOWS: there are such lights, and shadows. MIRRORING: something smooth mirrors
// surroundings. COATED: coats or fibres. RIMMED: rims. MIXED: two materials. GHOST: a swarm of another frame. LAYERED: light and coverage
// are written as they are, for what comes after; GUIDED: with normal, distance and number beside them; DISTANT: with the distance alone.
// BY_PIXEL: what a surface is made of differs from one pixel of an instance to the next. SWALLOWING: the inside of what is seen through has
// a colour. BLENDED: drawn over what is behind it.
uniform vec3 eye, zenith, horizon, groundColour;
uniform vec3 floorLight;   // what comes from below the horizon
uniform vec3 ambientBy[9]; // what comes from everywhere to matt surfaces, by spherical harmonics
uniform float exposure, soft;
uniform vec4 looks;      // the way of looking; w is 1 where rays are parallel
uniform vec3 sunToward[4], sunLight[4];
// What mirrors show of surroundings: sharp, and on an octahedral map blurred by their roughness.
uniform vec3 aroundLight;
uniform vec2 aroundTurn;  // cosine and sine
uniform sampler2D aroundSharp;
uniform sampler3D aroundBlurred;
// Lamps: the cosine of a spot's edge or what form it has; its reach; the cosine of a spot's full light.
uniform vec4 lampPlace[16], lampLight[16], lampAlong[16];
// Of the first few lamps: how far what casts shadows is from each, four places side by side and one above the other.
uniform mat4 lampToMap[16];
uniform float lampFirstPlace[16], lampTexel[16];
uniform sampler2DShadow lampShadowMap;
// Of the first sun: how far what casts shadows is from it, by places in its own box.
uniform float shadowSpread;
uniform mat4 toShadow;
uniform sampler2DShadow shadowMap;

// What all that is drawn at once has in common. Its vertices hand it on, and a fragment reads no uniform where it can help it: Mesa's
// software renderer fetches each number of a uniform for every lane on its own, in some thirty steps, and what is handed on in one. All
// that a shader hands on stays within the 60 numbers that every OpenGL 3.3 takes.
#ifdef VERTEX
out
#else
in
#endif
Handed {
    flat vec3 zenith, horizon, floorLight;
    flat vec3 sunToward, sunLight;  // of the first sun
    vec4 toEye;                     // with the distance to an eye whose rays are parallel
#ifdef AROUND
    flat vec3 aroundLight;
    flat vec2 aroundTurn;
#endif
#ifdef LAMPS
    flat uvec3 lamps;  // which may shine there, as lamp_lists.h has them
#endif
#ifdef SHADOWS
    vec3 inShadow;  // 0 … 1, across the map of the first sun's shadows
    flat float shadowSpread;
#endif
} handed;

#ifdef VERTEX
#ifdef LAMPS
layout(location = 11) in uvec3 lampList;
#endif
void handOn(vec3 place) {
    handed.zenith = zenith, handed.horizon = horizon, handed.floorLight = floorLight;
    handed.sunToward = sunToward[0], handed.sunLight = sunLight[0];
    bool parallel = looks.w > 0;
    handed.toEye = vec4(parallel ? -looks.xyz : eye - place, parallel ? dot(place - eye, looks.xyz) : -1);
#ifdef AROUND
    handed.aroundLight = aroundLight, handed.aroundTurn = aroundTurn;
#endif
#ifdef LAMPS
    handed.lamps = lampList;
#endif
#ifdef SHADOWS
    handed.inShadow = (toShadow * vec4(place, 1)).xyz;
    handed.shadowSpread = shadowSpread;
#endif
}
#else
vec3 towardEye() { return normalize(handed.toEye.xyz); }
float distanceToEye() { return handed.toEye.w > 0 ? handed.toEye.w : length(handed.toEye.xyz); }
#endif

// The Khronos PBR Neutral tone mapper, as core/picture/display.cpp has it.
vec3 softened(vec3 c) {
    float least = min(c.r, min(c.g, c.b));
    c -= least < 0.08 ? least - 6.25 * least * least : 0.04;
    float peak = max(c.r, max(c.g, c.b));
    if (peak < 0.76) return c;
    float newPeak = 1 - 0.0576 / (peak + 0.24 - 0.76);
    return mix(c * (newPeak / peak), vec3(newPeak), 1 - 1 / (0.15 * (peak - newPeak) + 1));
}

vec3 displayed(vec3 light) {
    light *= exposure;
    if (soft > 0) light = softened(light);
    // The sRGB encoding by square roots, within 0.0008: software renderers take long for powers.
    light = clamp(light, 0, 1);
    vec3 low = light * 12.92, two = sqrt(light), four = sqrt(two);
    vec3 high = 0.662002687 * two + 0.684122060 * four - 0.323583601 * sqrt(four) - 0.0225411470 * light;
    return mix(low, high, step(0.0031308, light));
}

// How strongly a light is mirrored, by the cosines of half vector, light and view.
float shine(float nh, float nl, float nv, float roughness) {
    float alpha = max(roughness * roughness, 0.02), a2 = alpha * alpha;
    float d = nh * nh * (a2 - 1) + 1;
    return min(a2 / (d * d) / (4 * max(nl, nv)), 12);
}

// As core/picture/blurred_panorama.h has it: what is alike on both sides of a surface, and what is the opposite on the other.
vec3 ambientEven(vec3 n) {
    return ambientBy[0] + ambientBy[4] * (n.x * n.y) + ambientBy[5] * (n.y * n.z) + ambientBy[6] * (3 * n.z * n.z - 1) +
           ambientBy[7] * (n.x * n.z) + ambientBy[8] * (n.x * n.x - n.y * n.y);
}
vec3 ambientOdd(vec3 n) { return ambientBy[1] * n.x + ambientBy[2] * n.y + ambientBy[3] * n.z; }

#ifndef VERTEX
#ifdef AROUND
vec3 turnedAround(vec3 d) {
    vec2 turn = handed.aroundTurn;
    return vec3(turn.x * d.x - turn.y * d.z, d.y, turn.y * d.x + turn.x * d.z);
}

vec3 aroundRough(vec3 direction, float roughness) {
    vec3 d = turnedAround(direction);
    // As core/picture/blurred_panorama.h has it.
    vec3 o = d / (abs(d.x) + abs(d.y) + abs(d.z));
    vec2 at = o.y >= 0 ? o.xz : (1 - abs(o.zx)) * vec2(o.x < 0 ? -1 : 1, o.z < 0 ? -1 : 1);
    vec3 light = textureLod(aroundBlurred, vec3((at * 16 + 17) / 34, (clamp(roughness, 0, 1) * 4 + 0.5) / 5), 0).rgb;
#ifdef MIRRORING
    // As core/light/panorama.cpp has it; straight up and down any way around will do.
    vec2 sharp = vec2(atan(d.x, 1e-12 - d.z) / 6.2831853 + 0.5, acos(clamp(d.y, -1, 1)) / 3.14159265);
    if (roughness < 0.25) light = mix(textureLod(aroundSharp, sharp, 0).rgb, light, roughness * 4);
#endif
    return light * handed.aroundLight;
}
#endif

// Where edges of shadows are looked at, in widths of the edge.
const vec2 spots[8] = vec2[](vec2(-0.33, -0.79), vec2(0.72, -0.61), vec2(0.13, -0.12), vec2(-0.89, 0.06), vec2(0.94, 0.24),
                             vec2(-0.41, 0.42), vec2(0.38, 0.72), vec2(-0.22, 0.95));

// How much of the first sun comes to a place, 0 … 1.
#ifdef SHADOWS
float sunReaching(float facing) {
    vec3 at = handed.inShadow;
    if (any(lessThan(at, vec3(0))) || any(greaterThan(at, vec3(1)))) return 1.0;
    float size = 1.0 / float(textureSize(shadowMap, 0).x), sum = 0;
    float bias = size * (1.5 + 2 * (1 - facing)) + handed.shadowSpread * (1 - facing);
    for (int k = 0; k < 4; ++k) sum += texture(shadowMap, vec3(at.xy + spots[k] * max(handed.shadowSpread, 1.5 * size), at.z - bias));
    return sum / 4;
}
#else
float sunReaching(float facing) { return 1.0; }
#endif

#ifdef LAMP_SHADOWS
// How much of a lamp comes to a place, 0 … 1.
float lampReaching(int lamp, vec3 place, vec3 normal) {
    vec3 from = place - lampPlace[lamp].xyz, size = abs(from);
    int at = int(lampFirstPlace[lamp]);
    // A point has six places, one for each way.
    if (lampPlace[lamp].w == -2)
        at += size.x >= max(size.y, size.z) ? (from.x > 0 ? 0 : 1) : size.y >= size.z ? (from.y > 0 ? 2 : 3) : (from.z > 0 ? 4 : 5);
    vec4 seen = lampToMap[at] * vec4(place + normal * (2.5 * lampTexel[lamp] * length(from)), 1);
    vec3 p = seen.xyz / max(seen.w, 1e-4) * 0.5 + 0.5;
    if (seen.w <= 0 || any(lessThan(p.xy, vec2(0))) || any(greaterThan(p.xy, vec2(1)))) return 1.0;
    float texel = 1.0 / float(textureSize(lampShadowMap, 0).x), sum = 0;
    vec2 corner = vec2(at & 3, at >> 2);
    for (int k = 0; k < 4; ++k) {
        vec2 inside = clamp(p.xy / 4 + spots[k] * 1.5 * texel, vec2(texel), vec2(0.25 - texel));
        sum += texture(lampShadowMap, vec3(corner / 4 + inside, min(p.z, 1.0) - 0.00002));
    }
    return sum / 4;
}
#endif

// What suns and lamps send to a place: to matt surfaces, to glossy ones and to coats as far as these mirror it, and the part of the
// glossy one that mirrors because it grazes.
struct Arriving {
    vec3 matt, glossy, coat, grazing;
    float most;  // of the suns, the cosine of the one that it faces most
};

void arrive(inout Arriving all, vec3 light, vec3 way, vec3 n, vec3 v, float nl, float nv, float roughness, float coatRoughness) {
    vec3 h = normalize(way + v);
    float nh = max(dot(n, h), 0), missed = 1 - max(dot(h, v), 0), missed2 = missed * missed;
    vec3 mirrored = light * shine(nh, nl, nv, roughness);
    all.matt += light;
    all.glossy += mirrored;
    all.grazing += mirrored * (missed2 * missed2 * missed);
#ifdef COATED
    all.coat += light * shine(nh, nl, nv, coatRoughness);
#endif
}

#ifdef LAMPS
int nextLamp(inout uvec2 list) {
    int lamp = int(list.x & 15u);
    list = uvec2(list.x >> 4 | (list.y & 15u) << 28, list.y >> 4);
    return lamp;
}

void arriveFrom(int lamp, float reaching, inout Arriving all, vec3 place, vec3 n, vec3 v, float nv, float roughness, float coatRoughness) {
    vec3 way = lampPlace[lamp].xyz - place;
    float d2 = max(dot(way, way), 1e-4);
    way *= inversesqrt(d2);
    float nl = dot(n, way);
    if (nl <= 0) return;
    float form = lampPlace[lamp].w, along = -dot(way, lampAlong[lamp].xyz), share = reaching;
    if (form > 1.5) share *= form > 2.5 ? abs(along) : max(along, 0);
    else if (form > -1.5) share *= smoothstep(form, lampAlong[lamp].w, along);
    if (lampLight[lamp].w > 0) {
        float far = d2 / (lampLight[lamp].w * lampLight[lamp].w), window = clamp(1 - far * far, 0, 1);
        share *= window * window;
    }
    // Sunlight is what white paper sends back; a lamp's is spread over all directions first.
    vec3 light = lampLight[lamp].rgb * (share * nl / d2 / 3.14159265);
    arrive(all, light, way, n, v, nl, nv, roughness, coatRoughness);
}
#endif

Arriving arriving(vec3 place, vec3 n, vec3 v, float nv, float roughness, float coatRoughness) {
    Arriving all = Arriving(vec3(0), vec3(0), vec3(0), vec3(0), 0);
    for (int i = 0; i < SUNS; ++i) {
        vec3 toward = i == 0 ? handed.sunToward : sunToward[i], light = i == 0 ? handed.sunLight : sunLight[i];
        float nl = max(dot(n, toward), 0);
        all.most = max(all.most, nl);
        arrive(all, light * (nl * (i == 0 ? sunReaching(nl) : 1)), toward, n, v, nl, nv, roughness, coatRoughness);
    }
#ifdef LAMPS
    int count = int(handed.lamps.z >> 8), k = 0;
    uvec2 list = handed.lamps.xy;
#ifdef LAMP_SHADOWS
    for (int shadowed = int(handed.lamps.z & 255u); k < shadowed; ++k) {
        int lamp = nextLamp(list);
        arriveFrom(lamp, lampReaching(lamp, place, n), all, place, n, v, nv, roughness, coatRoughness);
    }
#endif
    for (; k < count; ++k) arriveFrom(nextLamp(list), 1, all, place, n, v, nv, roughness, coatRoughness);
#endif
    return all;
}
#endif
