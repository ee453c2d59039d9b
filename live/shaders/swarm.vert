layout(location = 0) in vec3 position;
layout(location = 1) in vec3 normal;
layout(location = 2) in vec4 row0;
layout(location = 3) in vec4 row1;
layout(location = 4) in vec4 row2;
layout(location = 5) in vec4 colour;
layout(location = 6) in vec3 meshColour;
layout(location = 7) in float mixShare;
layout(location = 8) in vec2 meshUv;
layout(location = 9) in float vertexNumber;
layout(location = 10) in vec4 sheetPlace;
layout(location = 12) in uint closedSides;
uniform mat4 toClip;
#ifndef DEPTH_ONLY
uniform vec3 how;
out vec3 place, facing;
out vec4 tint;
flat out vec2 drawnAs;
#ifdef GHOST
flat out float ghostly;
#else
uniform vec3 boxMiddle, boxHalf;
out float mirrorsAround;
#endif
#if defined(SWALLOWING) && !defined(GHOST)
flat out float thickness;
#endif
#ifdef BY_PIXEL
#ifdef MIXED
out vec3 meshTint;
#endif
#else
// As swarm.frag has them.
uniform vec4 surface[2], glow[2], secondColour;
flat out vec4 itsSurface;
flat out vec3 itsGlow;
#endif
#ifdef MIXED
flat out float mixed;
#endif
#ifndef PICTURED
out vec3 even, odd;
#endif
#ifdef MIXED_OVER
uniform vec4 acrossBox;
uniform vec2 acrossUv;
uniform float acrossNumber;
out float across;
#endif
#ifdef PICTURED
out vec2 uv;
out float stretch;
#endif
#ifdef SHOWING
out vec2 onPicture;
flat out vec4 placed;
#endif
#ifdef GUIDED
uniform int firstNumber;
flat out int number;
#endif
#endif
invariant gl_Position;

#if !defined(DEPTH_ONLY) && !defined(GHOST)
// How much of what comes along a direction, in the mesh's own metres, comes from around and not from a neighbour that closes the side on
// which it leaves the box.
float fromAround(vec3 direction) {
    vec3 at = (position - boxMiddle) / boxHalf, speed = direction / boxHalf;
    speed /= max(max(abs(speed.x), abs(speed.y)), max(abs(speed.z), 1e-20));
    // The side that is reached first counts most.
    vec3 way = max(1 - sign(speed) * at, 0) / max(abs(speed), 1e-4) + 0.03, share = 1 / (way * way * way);
    uvec3 side = uvec3(speed.x > 0 ? 4 : 0, speed.y > 0 ? 12 : 8, speed.z > 0 ? 20 : 16);
    vec3 closed = vec3(uvec3(closedSides) >> side & 15u) / 15;
    return 1 - dot(share, closed) / (share.x + share.y + share.z);
}
#endif

void main() {
    vec4 p = vec4(position, 1);
    vec4 world = vec4(dot(row0, p), dot(row1, p), dot(row2, p), 1);
#ifndef DEPTH_ONLY
    // The cofactors turn normals rightly under scale along one axis; where a matrix mirrors they turn them inside.
    vec3 a = row0.xyz, b = row1.xyz, c = row2.xyz, bc = cross(b, c), ca = cross(c, a), ab = cross(a, b);
    float times = dot(a, bc);
    facing = vec3(dot(bc, normal), dot(ca, normal), dot(ab, normal)) * (times < 0 ? -1.0 : 1.0);
    place = world.xyz;
    // The sRGB encoding undone by a polynomial, within 0.002: software renderers take long for powers.
    vec3 e = colour.rgb;
    tint = vec4(e * (e * (e * 0.305306011 + 0.682171111) + 0.012522878) * meshColour, colour.a);
    drawnAs = how.xy;
    handOn(place);
#ifdef GHOST
    ghostly = how.z;
#endif
    vec3 n = facing * inversesqrt(max(dot(facing, facing), 1e-30));
#if defined(SWALLOWING) && !defined(GHOST)
    // What a ray through a box goes inside of it on average: four times the volume by the surface.
    thickness = 4 * pow(abs(times), 1.0 / 3.0) / (1 / boxHalf.x + 1 / boxHalf.y + 1 / boxHalf.z);
#endif
#ifndef GHOST
    vec3 mirror = reflect(-normalize(handed.toEye.xyz), n);
    mirror = (bc * mirror.x + ca * mirror.y + ab * mirror.z) * (times < 0 ? -1.0 : 1.0);
    mirrorsAround = closedSides == 0u ? 1 : fromAround(mirror);
#endif
#ifndef PICTURED
    even = ambientEven(n), odd = ambientOdd(n);
#endif
#ifdef MIXED
    mixed = mixShare;
#endif
#if defined(BY_PIXEL) && defined(MIXED)
    meshTint = meshColour;
#elif defined(BY_PIXEL)
#elif defined(MIXED)
    tint = mix(tint, vec4(secondColour.rgb * meshColour, secondColour.a), mixShare);
    itsSurface = mix(surface[0], surface[1], mixShare);
    itsGlow = mix(glow[0].rgb, glow[1].rgb, mixShare);
#else
    itsSurface = surface[0], itsGlow = glow[0].rgb;
#endif
#ifdef MIXED_OVER
    across = dot(acrossBox, p) + dot(acrossUv, meshUv) + acrossNumber * vertexNumber;
#endif
#ifdef PICTURED
    uv = vec2(meshUv.x, -meshUv.y);  // pictures are there with their upper edge first
    // Bumps grow with what they are on.
    stretch = pow(abs(times), 1.0 / 3.0);
#endif
#ifdef SHOWING
    onPicture = vec2(meshUv.x, 1 - meshUv.y);
    placed = sheetPlace;
#endif
#ifdef GUIDED
    number = firstNumber + gl_InstanceID;
#endif
#endif
    gl_Position = toClip * world;
}
