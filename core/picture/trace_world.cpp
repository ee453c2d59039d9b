#include "core/picture/trace_world.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <glm/gtc/matrix_inverse.hpp>
#include <map>
#include <tuple>

#include "core/base/parallel.h"
#include "core/picture/joined_leaves.h"
#include "core/picture/moments.h"
#include "core/shape/shape_kind.h"

namespace gswarm {
namespace {

using glm::vec3;

/// Where rays begin to meet something, metres.
constexpr float nearest = 1e-4f, nearestShadow = 1e-3f;

void put(std::span<const WorldRay> rays, float least, RTCRay16& to, std::array<int, raysTogether>& wanted) {
    for (std::size_t k = 0; k < rays.size(); ++k) {
        const WorldRay& ray = rays[k];
        to.org_x[k] = ray.from.x, to.org_y[k] = ray.from.y, to.org_z[k] = ray.from.z;
        to.dir_x[k] = ray.direction.x, to.dir_y[k] = ray.direction.y, to.dir_z[k] = ray.direction.z;
        to.tnear[k] = least, to.tfar[k] = ray.distance, to.time[k] = ray.time;
        to.mask[k] = ~0u, to.id[k] = static_cast<unsigned>(k), to.flags[k] = 0;
        wanted[k] = -1;
    }
}

}  // namespace

TraceWorld::TraceWorld(std::span<const DrawList> shutter, const Ground& ground, MeshTrees& trees, Progress& progress)
    : device_(trees.device()), top_(rtcNewScene(device_)) {
    // A constructor that throws has no destructor called.
    struct Release {
        RTCScene* scene;
        ~Release() {
            if (scene) rtcReleaseScene(*scene);
        }
    } release{&top_};
    make(shutter, trees, progress);
    move(shutter, ground, progress);
    release.scene = nullptr;
}

TraceWorld::~TraceWorld() { rtcReleaseScene(top_); }

/// A geometry for everything there is, in the order of the list, and for every joined surface behind them.
void TraceWorld::make(std::span<const DrawList> shutter, MeshTrees& trees, const Progress& progress) {
    const DrawList& list = shutter.front();
    joined_ = joinedSurfaces(shutter);
    const auto attach = [this](RTCScene scene, std::size_t number) {
        RTCGeometry geometry = rtcNewGeometry(device_, RTC_GEOMETRY_TYPE_INSTANCE);
        rtcSetGeometryInstancedScene(geometry, scene);
        rtcAttachGeometryByID(top_, geometry, static_cast<unsigned>(number));
        rtcReleaseGeometry(geometry);
    };
    std::uint32_t next = 0;
    std::vector<Seen> behind;
    for (std::size_t s = 0; s < list.surfaces.size(); ++s) {
        const Surface& surface = list.surfaces[s];
        const std::size_t first = seen_.size(), count = thingCount(surface);
        const Seen one{static_cast<std::uint32_t>(s), joined_[s], false, next};
        next += static_cast<std::uint32_t>(count);
        if (joined_[s]) {
            behind.push_back(one);
            continue;
        }
        if (count == 0) continue;
        const RTCScene shape = trees.of(surface.meshes);
        seen_.resize(first + count);
        forRanges(count, 4096, [&](std::size_t begin, std::size_t end) {
            for (std::size_t k = begin; k < end; ++k) {
                attach(shape, first + k);
                Seen& seen = seen_[first + k] = one;
                seen.number += static_cast<std::uint32_t>(k);
                if (surface.swarm) seen.row = surface.instances()[k];
            }
        });
    }
    // Those that show the same share one tree, which Embree keeps as long as an instance of it stands.
    std::map<std::tuple<const Result*, const void*, const Mesh*>, std::unique_ptr<RayTree>> shared;
    for (const Seen& seen : behind) {
        const Surface& surface = list.surfaces[seen.surface];
        auto& tree = shared[{surface.swarm.get(), surface.rows.get(), &surface.meshes->mesh()}];
        if (!tree) tree = std::make_unique<RayTree>(joinedLeaves(surface, progress));
        attach(tree->scene(), seen_.size());
        seen_.push_back(seen);
    }
}

void TraceWorld::move(std::span<const DrawList> shutter, const Ground& ground, Progress& progress) {
    eachThing(
        shutter, progress, [this](std::uint32_t number, std::span<const glm::mat4> transforms) { place(number, transforms); }, joined_);
    for (std::size_t g = 0; g < seen_.size(); ++g)
        if (seen_[g].joined) place(static_cast<std::uint32_t>(g), posesOf(shutter, seen_[g].surface));
    dress(shutter, ground);
    commit(progress);
}

void TraceWorld::commit(Progress& progress) {
    const auto goesOn = [](void* asked, double) { return !static_cast<Progress*>(asked)->cancelled(); };
    rtcSetSceneProgressMonitorFunction(top_, goesOn, &progress);
    rtcCommitScene(top_);
    rtcSetSceneProgressMonitorFunction(top_, nullptr, nullptr);
    progress.check();
}

void TraceWorld::place(std::uint32_t number, std::span<const glm::mat4> transforms) {
    Seen& seen = seen_[number];
    seen.moves = std::any_of(transforms.begin(), transforms.end(), [&](const glm::mat4& m) { return m != transforms.front(); });
    seen.normalMatrix = glm::inverseTranspose(glm::mat3(transforms.front()));
    const std::size_t moments = seen.moves ? transforms.size() : 1;
    RTCGeometry geometry = rtcGetGeometry(top_, number);
    rtcSetGeometryTimeStepCount(geometry, static_cast<unsigned>(moments));
    for (std::size_t k = 0; k < moments; ++k)
        rtcSetGeometryTransform(geometry, static_cast<unsigned>(k), RTC_FORMAT_FLOAT4X4_COLUMN_MAJOR, &transforms[k][0][0]);
    rtcCommitGeometry(geometry);
}

void TraceWorld::dress(std::span<const DrawList> shutter, const Ground& ground) {
    const DrawList& list = shutter.front();
    ground_ = ground;
    seeThrough_ = false;
    dressed_.clear();
    for (const Surface& surface : list.surfaces) {
        const Look& look = list.looks[static_cast<std::size_t>(surface.look)];
        dressed_.push_back({&look, &surface, &surface.meshes->mesh(), hasBumps(look)});
        seeThrough_ = seeThrough_ || seesThrough(look);
    }
    for (Seen& seen : seen_) {
        const Surface& surface = list.surfaces[seen.surface];
        if (seen.joined) {
            for (const std::uint32_t row : surface.instances()) seeThrough_ = seeThrough_ || surface.colourOf(row).w < 1;
            continue;
        }
        seen.colour = surface.swarm ? surface.colourOf(seen.row) : surface.colour;
        seeThrough_ = seeThrough_ || seen.colour.w < 1;
    }
}

bool madeAlike(std::span<const DrawList> a, std::span<const DrawList> b) {
    const auto alike = [](const Surface& one, const Surface& other) {
        return one.shape == other.shape && one.meshes == other.meshes && one.dimmed == other.dimmed && !one.swarm == !other.swarm &&
               one.copy == other.copy && one.path == other.path && std::ranges::equal(one.instances(), other.instances()) &&
               (one.path == 0 || one.swarm == other.swarm);  // what may be joined has to be the very same
    };
    return std::equal(a.begin(), a.end(), b.begin(), b.end(), [&](const DrawList& one, const DrawList& other) {
        return std::equal(one.surfaces.begin(), one.surfaces.end(), other.surfaces.begin(), other.surfaces.end(), alike);
    });
}

bool standAlike(std::span<const DrawList> a, std::span<const DrawList> b) {
    if (!madeAlike(a, b)) return false;
    const auto alike = [](const Surface& one, const Surface& other) {
        if (!(one.pose == other.pose)) return false;
        if (!one.swarm || one.swarm == other.swarm) return true;
        const ResultColumns &mine = *one.swarm->columns, &theirs = *other.swarm->columns;
        return std::equal(mine.matrix.begin(), mine.matrix.end(), theirs.matrix.begin(), theirs.matrix.end());
    };
    return std::equal(a.begin(), a.end(), b.begin(), [&](const DrawList& one, const DrawList& other) {
        return std::equal(one.surfaces.begin(), one.surfaces.end(), other.surfaces.begin(), alike);
    });
}

Hit TraceWorld::cast(const vec3& from, const vec3& direction, float time) const {
    const WorldRay ray{from, direction, time};
    Hit hit;
    Hit* const to = &hit;
    cast({&ray, 1}, false, {&to, 1});
    return hit;
}

void TraceWorld::cast(std::span<const WorldRay> rays, bool alike, std::span<Hit* const> hits) const {
    RTCRayHit16 sixteen{};
    RTCHit16& h = sixteen.hit;
    RTCIntersectContext context;
    rtcInitIntersectContext(&context);
    if (alike) {
        alignas(64) std::array<int, raysTogether> wanted{};
        put(rays, nearest, sixteen.ray, wanted);
        for (std::size_t k = 0; k < raysTogether; ++k) h.geomID[k] = h.instID[0][k] = RTC_INVALID_GEOMETRY_ID;
        context.flags = RTC_INTERSECT_CONTEXT_FLAG_COHERENT;
        rtcIntersect16(wanted.data(), top_, &context, &sixteen);
    } else {
        for (std::size_t k = 0; k < rays.size(); ++k) {
            const vec3 &from = rays[k].from, &way = rays[k].direction;
            RTCRayHit ray;
            ray.ray = {from.x, from.y, from.z, nearest, way.x, way.y, way.z, rays[k].time, rays[k].distance, ~0u, 0, 0};
            ray.hit.geomID = ray.hit.instID[0] = RTC_INVALID_GEOMETRY_ID;
            rtcIntersect1(top_, &context, &ray);
            sixteen.ray.tfar[k] = ray.ray.tfar;
            h.geomID[k] = ray.hit.geomID, h.instID[0][k] = ray.hit.instID[0], h.primID[k] = ray.hit.primID;
            h.u[k] = ray.hit.u, h.v[k] = ray.hit.v;
            h.Ng_x[k] = ray.hit.Ng_x, h.Ng_y[k] = ray.hit.Ng_y, h.Ng_z[k] = ray.hit.Ng_z;
        }
    }
    // What a hundred thousand instances are told of is far from the processor.
    for (std::size_t k = 0; k < rays.size(); ++k)
        if (h.geomID[k] != RTC_INVALID_GEOMETRY_ID) __builtin_prefetch(&seen_[h.instID[0][k]]);
    for (std::size_t k = 0; k < rays.size(); ++k)
        if (h.geomID[k] == RTC_INVALID_GEOMETRY_ID)
            metElse(rays[k], *hits[k]);
        else
            met(rays[k], h.instID[0][k], h.primID[k], sixteen.ray.tfar[k], h.u[k], h.v[k], {h.Ng_x[k], h.Ng_y[k], h.Ng_z[k]}, *hits[k]);
}

void TraceWorld::met(const WorldRay& ray, std::uint32_t geometry, std::uint32_t triangle, float distance, float second, float third,
                     const vec3& flat, Hit& hit) const {
    const Seen& seen = seen_[geometry];
    tell(seen, hit);
    hit.geometry = geometry;
    hit.triangle = triangle;
    hit.second = second, hit.third = third;
    hit.distance = distance;
    hit.place = ray.from + ray.direction * distance;
    glm::mat3 turned = seen.normalMatrix;
    if (seen.moves) {
        glm::mat4 now;
        rtcGetGeometryTransform(rtcGetGeometry(top_, geometry), ray.time, RTC_FORMAT_FLOAT4X4_COLUMN_MAJOR, &now[0][0]);
        turned = glm::inverseTranspose(glm::mat3(now));
    }
    hit.flat = glm::normalize(turned * flat);  // as the mesh has it
    if (seen.joined) findJoined(seen, hit, turned);
    smooth(hit, turned);
}

void TraceWorld::metElse(const WorldRay& ray, Hit& hit) const {
    hit = {};
    if (!ground_.shown || ray.direction.y >= -1e-6f || ray.from.y <= ground_.height) return;
    hit.any = true;
    hit.distance = (ground_.height - ray.from.y) / ray.direction.y;
    hit.place = ray.from + ray.direction * hit.distance;
    hit.normal = hit.flat = {0, 1, 0};
}

void TraceWorld::tell(const Seen& seen, Hit& hit) const {
    hit.any = true;
    hit.mesh = &meshOf(seen);
    hit.surface = seen.surface;
    hit.number = seen.number;
    hit.row = seen.row;
    hit.colour = seen.colour;
}

void TraceWorld::smooth(Hit& hit, const glm::mat3& turned) const {
    const std::uint32_t* corner = &hit.mesh->triangles[3 * static_cast<std::size_t>(hit.triangle)];
    const auto& n = hit.mesh->normals;
    const float u = hit.second, v = hit.third;
    vec3 normal = n[corner[0]] * (1 - u - v) + n[corner[1]] * u + n[corner[2]] * v;
    if (dressed_[hit.surface].bumps) normal = glm::normalize(normal) - bumpOf(hit);
    hit.normal = glm::normalize(turned * normal);
    const auto& c = hit.mesh->colours;
    hit.tint = c.empty() ? vec3(1) : vec3(c[corner[0]] * (1 - u - v) + c[corner[1]] * u + c[corner[2]] * v);
}

glm::mat4 TraceWorld::poseOf(std::uint32_t geometry) const {
    glm::mat4 pose;
    rtcGetGeometryTransform(rtcGetGeometry(top_, geometry), 0, RTC_FORMAT_FLOAT4X4_COLUMN_MAJOR, &pose[0][0]);
    return pose;
}

Hit TraceWorld::hitOn(std::uint32_t geometry, const glm::mat4& pose, std::uint32_t triangle, float second, float third) const {
    const Seen& seen = seen_[geometry];
    Hit hit;
    tell(seen, hit);
    hit.geometry = geometry;
    hit.triangle = triangle;
    hit.second = second, hit.third = third;
    const std::uint32_t* corner = &hit.mesh->triangles[3 * static_cast<std::size_t>(triangle)];
    const auto& p = hit.mesh->positions;
    const vec3 a = p[corner[0]], b = p[corner[1]], c = p[corner[2]];
    hit.place = pose * glm::vec4(a * (1 - second - third) + b * second + c * third, 1);
    hit.flat = glm::normalize(seen.normalMatrix * glm::cross(b - a, c - a));
    smooth(hit, seen.normalMatrix);
    return hit;
}

void TraceWorld::findJoined(const Seen& seen, Hit& hit, glm::mat3& turned) const {
    const Surface& surface = *dressed_[seen.surface].surface;
    const auto each = static_cast<std::uint32_t>(hit.mesh->triangleCount()), which = hit.triangle / each;
    hit.triangle %= each;
    hit.number += which;
    hit.row = surface.instances()[which];
    hit.colour = surface.colourOf(hit.row);
    turned = turned * glm::inverseTranspose(glm::mat3(matrixOf(*surface.swarm, hit.row)));
}

LookedAt TraceWorld::lookedAt(const Hit& hit) const {
    const Surface& surface = *dressed_[hit.surface].surface;
    LookedAt at = surface.swarm ? gswarm::lookedAt(*surface.swarm, hit.row) : LookedAt{};
    const std::uint32_t* corner = &hit.mesh->triangles[3 * static_cast<std::size_t>(hit.triangle)];
    const auto between = [&](const auto& values) {
        return values[corner[0]] * (1 - hit.second - hit.third) + values[corner[1]] * hit.second + values[corner[2]] * hit.third;
    };
    const Bounds& box = surface.meshes->bounds;
    at.mesh = hit.mesh;
    at.triangle = hit.triangle, at.b = hit.second, at.c = hit.third;
    at.uv = between(hit.mesh->uv);
    at.inBox = (between(hit.mesh->positions) - box.low) / glm::max(box.size(), vec3(1e-20f));
    return at;
}

vec3 TraceWorld::bumpOf(const Hit& hit) const {
    const glm::vec2 slope = bumpAt(*dressed_[hit.surface].look, lookedAt(hit));
    const Mesh& mesh = *hit.mesh;
    const std::uint32_t* corner = &mesh.triangles[3 * static_cast<std::size_t>(hit.triangle)];
    const vec3 second = mesh.positions[corner[1]] - mesh.positions[corner[0]],
               third = mesh.positions[corner[2]] - mesh.positions[corner[0]];
    const vec3 up = glm::cross(second, third);
    const float square = glm::dot(up, up);
    if (square <= 0) return vec3(0);
    // The height grows by this much along either edge; of all directions along the face one does that.
    const float alongSecond = glm::dot(slope, mesh.uv[corner[1]] - mesh.uv[corner[0]]);
    const float alongThird = glm::dot(slope, mesh.uv[corner[2]] - mesh.uv[corner[0]]);
    return (glm::cross(third, up) * alongSecond + glm::cross(up, second) * alongThird) / square;
}

Material TraceWorld::materialAt(const Hit& hit, const vec3& view) const {
    Material made;
    if (!hit.mesh) {
        made.colour = glm::vec4(ground_.colour, 1);
        made.roughness = 0.9f;
        return made;
    }
    const Look& look = *dressed_[hit.surface].look;
    if (look.constant()) {
        made = look.plain;
        made.colour = hit.colour;
    } else {
        LookedAt at = lookedAt(hit);
        at.facing = std::abs(glm::dot(hit.normal, view));
        made = gswarm::materialAt(look, at, hit.colour);
    }
    made.colour = glm::vec4(vec3(made.colour) * hit.tint, made.colour.w);
    return made;
}

float TraceWorld::opacityAt(const Hit& hit, const Material& material, const vec3& view) const {
    if (material.rim <= 0 || material.rimOpacity == material.colour.w) return material.colour.w;
    return glm::mix(material.colour.w, material.rimOpacity, rimAt(material, std::abs(glm::dot(hit.normal, view))));
}

void TraceWorld::reaching(std::span<const WorldRay> rays, std::span<vec3> light) const {
    if (seeThrough_) {
        for (std::size_t k = 0; k < rays.size(); ++k) light[k] = throughAll(rays[k]);
        return;
    }
    RTCRay16 sixteen{};
    alignas(64) std::array<int, raysTogether> wanted{};
    put(rays, nearestShadow, sixteen, wanted);
    RTCIntersectContext context;
    rtcInitIntersectContext(&context);
    rtcOccluded16(wanted.data(), top_, &context, &sixteen);
    for (std::size_t k = 0; k < rays.size(); ++k) light[k] = vec3(sixteen.tfar[k] > 0 ? 1.0f : 0.0f);
}

vec3 TraceWorld::throughAll(const WorldRay& ray) const {
    const vec3& direction = ray.direction;
    vec3 through(1), at = ray.from;
    float distance = ray.distance;
    for (int layer = 0; layer < mostLayers; ++layer) {
        const Hit hit = cast(at, direction, ray.time);
        if (!hit.mesh || hit.distance >= distance) return through;
        const Material m = materialAt(hit, -direction);
        const float opacity = opacityAt(hit, m, -direction);
        vec3 passes(1 - opacity);
        if (m.body != MaterialBody::opaque) {
            // As if it bent nothing; what mirrors away at the angle is lost.
            const float head = (m.ior - 1) * (m.ior - 1) / ((m.ior + 1) * (m.ior + 1));
            const float mirrors = head + (1 - head) * std::pow(1 - std::abs(glm::dot(hit.normal, direction)), 5.0f);
            const vec3 tint = m.body == MaterialBody::thin ? vec3(m.colour) : glm::sqrt(vec3(m.colour));
            passes += tint * (opacity * m.transmission * (1 - m.metal) * (1 - mirrors));
            if (m.attenuationDistance > 0 && glm::dot(hit.flat, direction) > 0)
                passes *= glm::pow(glm::max(m.attenuationColour, vec3(1e-6f)), vec3(hit.distance / m.attenuationDistance));
        }
        through *= passes;
        if (std::max({through.x, through.y, through.z}) < 1e-4f) return vec3(0);
        distance -= hit.distance;
        at = hit.place;
    }
    return vec3(0);
}

}  // namespace gswarm
