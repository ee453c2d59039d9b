// What is not needed is left out when it is compiled: software renderers go through both sides of every branch.
// SHADOWS, AROUND, LAMPS: there are such lights. COATED: coats or fibres. RIMMED: rims. MIXED: two materials. GHOST: a swarm of another
// frame. LAYERED: light and coverage are
// written as they are, for what comes after.
uniform vec3 eye, zenith, horizon, groundColour;
uniform float exposure, soft;
uniform vec4 looks;      // the way of looking; w is 1 where rays are parallel
uniform int sunCount;
uniform vec3 sunToward[4], sunLight[4];
// What surroundings give: sharp, and blurred by the roughness that mirrors them; the last layer is what matt surfaces receive.
uniform vec3 aroundLight;
uniform vec2 aroundTurn;  // cosine and sine
uniform sampler2D aroundSharp;
uniform sampler3D aroundBlurred;
// Of the first sun: how far what casts shadows is from it, by places in its own box.
uniform float shadowSpread;
uniform mat4 toShadow;
uniform sampler2DShadow shadowMap;

// The Khronos PBR Neutral tone mapper, as core/picture/view.cpp has it.
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
    vec3 low = light * 12.92, two = sqrt(clamp(light, 0, 1)), four = sqrt(two);
    vec3 high = 0.662002687 * two + 0.684122060 * four - 0.323583601 * sqrt(four) - 0.0225411470 * light;
    return clamp(mix(low, high, step(0.0031308, light)), 0, 1);
}

vec3 towardEye(vec3 place) { return looks.w > 0 ? -looks.xyz : normalize(eye - place); }
float distanceToEye(vec3 place) { return looks.w > 0 ? dot(place - eye, looks.xyz) : length(eye - place); }

// How strongly a light is mirrored, by the cosines of half vector, light and view.
float shine(float nh, float nl, float nv, float roughness) {
    float alpha = max(roughness * roughness, 0.02), a2 = alpha * alpha;
    float d = nh * nh * (a2 - 1) + 1;
    return min(a2 / (d * d) / (4 * max(nl, nv)), 12);
}

#ifdef AROUND
// As core/light/panorama.cpp has it.
vec2 onPanorama(vec3 d) {
    d = vec3(aroundTurn.x * d.x - aroundTurn.y * d.z, d.y, aroundTurn.y * d.x + aroundTurn.x * d.z);
    // Straight up and down any way around will do.
    return vec2(atan(d.x, 1e-12 - d.z) / 6.2831853 + 0.5, acos(clamp(d.y, -1, 1)) / 3.14159265);
}
const float levels = 6;
vec3 aroundRough(vec3 direction, float roughness) {
    vec2 at = onPanorama(direction);
    vec3 rough = textureLod(aroundBlurred, vec3(at, (clamp(roughness, 0, 1) * 4 + 0.5) / levels), 0).rgb;
    if (roughness < 0.25) rough = mix(textureLod(aroundSharp, at, 0).rgb, rough, roughness * 4);
    return rough * aroundLight;
}
vec3 aroundMatt(vec3 normal) { return textureLod(aroundBlurred, vec3(onPanorama(normal), (levels - 0.5) / levels), 0).rgb * aroundLight; }

#endif

// How much of the first sun comes to a place, 0 … 1.
#ifdef SHADOWS
const vec2 spots[8] = vec2[](vec2(-0.33, -0.79), vec2(0.72, -0.61), vec2(0.13, -0.12), vec2(-0.89, 0.06), vec2(0.94, 0.24),
                             vec2(-0.41, 0.42), vec2(0.38, 0.72), vec2(-0.22, 0.95));
float sunReaching(vec3 place, vec3 normal, float facing) {
    vec3 at = (toShadow * vec4(place, 1)).xyz;
    if (any(lessThan(at, vec3(0))) || any(greaterThan(at, vec3(1)))) return 1.0;
    float size = 1.0 / float(textureSize(shadowMap, 0).x), sum = 0;
    float bias = size * (1.5 + 2 * (1 - facing)) + shadowSpread * (1 - facing);
    for (int k = 0; k < 4; ++k) sum += texture(shadowMap, vec3(at.xy + spots[k] * max(shadowSpread, 1.5 * size), at.z - bias));
    return sum / 4;
}
#else
float sunReaching(vec3 place, vec3 normal, float facing) { return 1.0; }
#endif
