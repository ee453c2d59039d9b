in vec3 place, facing;
in vec4 tint;
flat in vec2 drawnAs;  // in plain colour, dimmed
#ifdef GHOST
flat in float ghostly;  // how strongly it is drawn
#else
in float mirrorsAround;  // what of the light that it mirrors comes from around, not from a neighbour
#endif
#ifdef BY_PIXEL
#ifdef MIXED
in vec3 meshTint;
uniform vec4 secondColour;
#endif
#else
flat in vec4 itsSurface;
flat in vec3 itsGlow;
#endif
#ifdef MIXED
flat in float mixed;
#endif
#ifndef PICTURED
in vec3 even, odd;  // what comes from everywhere: alike on both sides, and the opposite on the other
#endif
#ifdef MIXED_OVER
in float across;
uniform vec3 mixOf;  // what mixes: how it faces the eye, the way across the shape, or a picture
uniform float mixTable[17];
#endif
#ifdef PICTURED
in vec2 uv;
in float stretch;
uniform sampler2D colourPicture[2], roughPicture[2], glowPicture[2], bumpPicture[2], mixPicture;
uniform vec4 pictured[2];  // repeats, and the height of bumps
#endif
#ifdef SHOWING
in vec2 onPicture;
flat in vec4 placed;  // on the sheet: the left and upper edge, and the sides
uniform sampler2D sheet;
uniform vec2 sheetOn;  // which of the two materials shows it
#endif
#ifdef GUIDED
flat in int number;
layout(location = 1) out vec4 guide;
#endif
#ifdef DISTANT
layout(location = 1) out float guide;
#endif
// Two materials, and what mixes them: metal, roughness, clearness, strength of light in its own colour; light of another colour;
// coat and its roughness, bloom of fibres and its roughness; its colour, by how much there is; light of the rim and its power; opacity there,
// or -1.
uniform vec4 surface[2], glow[2], layers[2], fibres[2], rim[2], edge[2];
#if defined(SWALLOWING) && !defined(GHOST)
uniform vec4 swallowed[2];  // of each colour by a metre of the inside
flat in float thickness;
#endif
layout(location = 0) out vec4 result;

// From a height, the sine of the angle above the horizon.
vec3 sky(float height) {
    return mix(mix(handed.horizon, handed.zenith, sqrt(clamp(height, 0, 1))), handed.floorLight, smoothstep(0.05, -0.35, height));
}

#ifdef GHOST
// It is seen through: only so many of every sixteen pixels are drawn. (Where nothing is discarded, depth is looked at first.)
const float order[16] = float[](0, 8, 2, 10, 12, 4, 14, 6, 3, 11, 1, 9, 15, 7, 13, 5);
#endif

float brightness(vec3 light) { return dot(light, vec3(0.2126, 0.7152, 0.0722)); }

#ifdef PICTURED
void addPictures(sampler2D onColour, sampler2D onRoughness, sampler2D onGlow, float repeats, inout vec4 colour, inout vec4 made,
                 inout vec4 glowing) {
    vec2 at = uv * repeats;
    vec3 light = texture(onGlow, at).rgb;
    colour.rgb *= texture(onColour, at).rgb;
    made.y *= brightness(texture(onRoughness, at).rgb);
    // Light in the instance's own colour is of the picture's colour too.
    glowing.rgb = glowing.rgb * light + colour.rgb * light * made.w;
    made.w = 0;
}

// In metres of the world, by how the first material is mixed with the second.
float heightAt(vec2 at, float k) {
    float height = brightness(texture(bumpPicture[0], at * pictured[0].x).rgb) * pictured[0].y;
#ifdef MIXED
    height = mix(height, brightness(texture(bumpPicture[1], at * pictured[1].x).rgb) * pictured[1].y, k);
#endif
    return height * stretch;
}

// Unparametrised bumps (Mikkelsen 2010).
vec3 bumped(vec3 n, float k) {
    vec3 right = dFdx(place), up = dFdy(place), first = cross(up, n), second = cross(n, right);
    float here = heightAt(uv, k), area = dot(right, first);
    vec3 slope = (heightAt(uv + dFdx(uv), k) - here) * first + (heightAt(uv + dFdy(uv), k) - here) * second;
    return normalize(abs(area) * n - sign(area) * slope);
}
#endif

void main() {
#ifdef GHOST
    if (order[(int(gl_FragCoord.y) & 3) * 4 + (int(gl_FragCoord.x) & 3)] >= ghostly * 7.0) discard;
#endif
    vec3 n = normalize(facing), v = towardEye();
    float k = 0;
#ifdef MIXED
    k = mixed;
#endif
#ifdef MIXED_OVER
    float driver = mixOf.x * abs(dot(n, v)) + mixOf.y * across;
#ifdef PICTURED
    driver += mixOf.z * brightness(texture(mixPicture, uv).rgb);
#endif
    float at = clamp(driver, 0, 1) * 16;
    int cell = min(int(at), 15);
    k = mix(mixTable[cell], mixTable[cell + 1], at - float(cell));
#endif
#ifdef PICTURED
    n = bumped(n, k);
    if (dot(n, v) < 0) n = -n;
    vec3 ambient = max(ambientEven(n) + ambientOdd(n), 0);
#else
    bool inside = dot(n, v) < 0;
    if (inside) n = -n;
    vec3 ambient = max(inside ? even - odd : even + odd, 0);
#endif
    float nv = max(dot(n, v), 0.02), graze = 1 - nv;
#ifdef MIXED
#define OF(values) mix(values[0], values[1], k)
#else
#define OF(values) values[0]
#endif
#ifdef BY_PIXEL
    vec4 colours[2] = vec4[](tint, tint), surfaces[2] = surface, glows[2] = glow;
#ifdef MIXED
    colours[1] = vec4(secondColour.rgb * meshTint, secondColour.a);
#endif
#ifdef SHOWING
    vec3 shown = texture(sheet, placed.xy + clamp(onPicture, 0, 1) * placed.zw).rgb;
    colours[0].rgb *= mix(vec3(1), shown, sheetOn.x);
    colours[1].rgb *= mix(vec3(1), shown, sheetOn.y);
#endif
#ifdef PICTURED
    addPictures(colourPicture[0], roughPicture[0], glowPicture[0], pictured[0].x, colours[0], surfaces[0], glows[0]);
#ifdef MIXED
    addPictures(colourPicture[1], roughPicture[1], glowPicture[1], pictured[1].x, colours[1], surfaces[1], glows[1]);
#endif
#endif
    vec4 colour = OF(colours), made = OF(surfaces);
    vec3 glowing = OF(glows).rgb;
#else
    vec4 colour = tint, made = itsSurface;
    vec3 glowing = itsGlow;
#endif
#if defined(SWALLOWING) && !defined(GHOST)
    // What its inside swallows leaves it less clear, and of another colour.
    vec3 passes = exp(-OF(swallowed).rgb * thickness);
    colour.rgb *= mix(vec3(1), passes, made.z);
    made.z *= dot(passes, vec3(1 / 3.0));
#endif
    vec4 layer = OF(layers);
    // Where a pixel sees many normals their spread is roughness (Tokuyoshi and Kaplanyan 2019): far edges would sparkle.
    // Along an edge it is less, as far as they differ one way alone.
    vec3 rightward = dFdx(n), upward = dFdy(n);
    float bothWays = abs(dot(cross(rightward, upward), n));
    float spread = min(0.9 * bothWays + 0.05 * (dot(rightward, rightward) + dot(upward, upward)), 0.18);
    float metal = made.x, roughness = sqrt(sqrt(min(made.y * made.y * made.y * made.y + spread, 1)));
    float graze2 = graze * graze, graze5 = graze2 * graze2 * graze;
    vec3 head = mix(vec3(0.04), colour.rgb, metal);
    vec3 fresnel = head + (1 - head) * graze5 * (1 - 0.7 * roughness);
    vec3 mirror = reflect(-v, n);
    // The rougher, the more it mirrors what it faces.
    float rough2 = roughness * roughness;
    vec3 around = sky(mix(mirror.y, n.y, rough2)) * (1 - 0.2 * rough2);
#ifdef COATED
    vec3 coated = sky(mirror.y);
#endif
#ifdef AROUND
    around += aroundRough(mirror, roughness);
#ifdef COATED
    coated += aroundRough(mirror, layer.y);
#endif
#endif
    Arriving all = arriving(place, n, v, nv, roughness, layer.y);
#ifndef GHOST
    // A neighbour is about of the same colour.
    around *= mirrorsAround + (0.25 - 0.25 * mirrorsAround) * colour.rgb;
#endif
    vec3 light = colour.rgb * (1 - metal) * (all.matt + ambient * 0.85) * (1 - 0.75 * made.z) + fresnel * (all.glossy + around);
#ifdef COATED
    float coatShare = layer.x * (0.04 + 0.96 * graze5);
    light = light * (1 - coatShare) + all.coat * (0.04 * layer.x) + coated * coatShare;
    light += OF(fibres).rgb * (pow(graze, mix(4, 1.2, layer.w)) * (0.5 * all.matt + 0.5 * ambient));
#endif
    vec3 own = colour.rgb * made.w + glowing;
#ifdef RIMMED
    vec4 rims = OF(rim);
    float edged = pow(graze, max(rims.w, 0.5));
    own += rims.rgb * edged;
#endif
    own *= 1 - drawnAs.x;
    light = mix(light, colour.rgb * (0.55 + 0.45 * all.most + 0.15 * n.y), drawnAs.x);
#ifdef GHOST
    light = vec3(0.82, 0.75, 0.62) * (0.35 + 0.65 * max(n.y, all.most)), own = vec3(0);
#endif
#ifdef BLENDED
    float there = colour.a;
#ifdef RIMMED
    float rimOpacity = OF(edge).x;
    if (rimOpacity >= 0) there = mix(there, rimOpacity, edged);
#endif
    // What is clear shows itself by what it mirrors and by its edge.
    float seen = there * (1 - made.z * (1 - clamp(0.05 + graze5 + roughness * 0.45, 0, 1)));
    if (drawnAs.y > 0) there = seen = tint.a;
    // Its own light does not get less by what is clear; the brighter, the more it covers.
    float opacity = mix(seen, there, min(max(own.r, max(own.g, own.b)), 1));
    light = (light * seen + own * there) / max(opacity, 1e-4);
#else
    const float opacity = 1;
    light += own;
#endif
#ifdef GUIDED
    vec3 flat_n = n / (abs(n.x) + abs(n.y) + abs(n.z));
    vec2 folded = flat_n.z >= 0 ? flat_n.xy : (1 - abs(flat_n.yx)) * vec2(flat_n.x < 0 ? -1 : 1, flat_n.y < 0 ? -1 : 1);
    guide = vec4(folded, distanceToEye(), number);
#endif
#ifdef DISTANT
    guide = distanceToEye();
#endif
#ifdef LAYERED
    result = vec4(light, opacity);
#else
    result = vec4(displayed(light), opacity);
#endif
}
