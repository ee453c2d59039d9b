#include "core/picture/trace.h"

#include <embree3/rtcore.h>

#include <algorithm>
#include <cmath>

#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/shape/shape_kind.h"

namespace gswarm {
namespace {

using glm::vec3;

constexpr int bounces = 3;
constexpr float pi = 3.14159265359f;
constexpr float farAway = 1e30f;

/// Embree's handles, released in the end.
struct Rays {
    RTCDevice device = rtcNewDevice("threads=0");
    RTCScene top = rtcNewScene(device);
    std::vector<RTCScene> shapes;

    Rays() = default;
    Rays(const Rays&) = delete;
    Rays& operator=(const Rays&) = delete;
    ~Rays() {
        rtcReleaseScene(top);
        for (RTCScene scene : shapes) rtcReleaseScene(scene);
        rtcReleaseDevice(device);
    }
};

/// What a hit on a top-level geometry is: an instance of a mesh.
struct Seen {
    const Mesh* mesh = nullptr;
    glm::mat3 normalMatrix{1};
    vec3 colour{0};
    float opacity = 1;
    Material material;
};

struct World {
    Rays rays;
    std::vector<Seen> surfaces;  ///< by geometry id
    bool seeThrough = false;     ///< some surface is not wholly opaque
};

/// Chance for path tracing: a counter scrambled by the pixel, so that threads don't matter (PCG hash, O'Neill 2014).
class Dice {
  public:
    Dice(std::uint32_t x, std::uint32_t y, std::uint32_t sample, std::uint32_t seed)
        : state_(scramble(x + scramble(y + scramble(sample + scramble(seed))))) {}
    float next() {
        state_ = state_ * 747796405u + 2891336453u;
        return static_cast<float>(scramble(state_) >> 8) * (1.0f / 16777216.0f);
    }

  private:
    static std::uint32_t scramble(std::uint32_t v) {
        v = v * 747796405u + 2891336453u;
        v = ((v >> ((v >> 28) + 4)) ^ v) * 277803737u;
        return (v >> 22) ^ v;
    }
    std::uint32_t state_;
};

RTCScene makeShape(Rays& rays, const Mesh& mesh) {
    RTCGeometry geometry = rtcNewGeometry(rays.device, RTC_GEOMETRY_TYPE_TRIANGLE);
    auto* positions = static_cast<vec3*>(
        rtcSetNewGeometryBuffer(geometry, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3, sizeof(vec3), mesh.positions.size()));
    std::copy(mesh.positions.begin(), mesh.positions.end(), positions);
    auto* triangles = static_cast<std::uint32_t*>(
        rtcSetNewGeometryBuffer(geometry, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3, 12, mesh.triangles.size() / 3));
    std::copy(mesh.triangles.begin(), mesh.triangles.end(), triangles);
    rtcCommitGeometry(geometry);
    RTCScene scene = rtcNewScene(rays.device);
    rtcAttachGeometry(scene, geometry);
    rtcReleaseGeometry(geometry);
    rtcCommitScene(scene);
    rays.shapes.push_back(scene);
    return scene;
}

void addInstance(World& world, RTCScene shape, const glm::mat4& transform, Seen surface) {
    RTCGeometry geometry = rtcNewGeometry(world.rays.device, RTC_GEOMETRY_TYPE_INSTANCE);
    rtcSetGeometryInstancedScene(geometry, shape);
    rtcSetGeometryTimeStepCount(geometry, 1);
    rtcSetGeometryTransform(geometry, 0, RTC_FORMAT_FLOAT4X4_COLUMN_MAJOR, &transform[0][0]);
    rtcCommitGeometry(geometry);
    const unsigned id = rtcAttachGeometry(world.rays.top, geometry);
    rtcReleaseGeometry(geometry);
    surface.normalMatrix = glm::transpose(glm::inverse(glm::mat3(transform)));
    world.surfaces.resize(std::max<std::size_t>(world.surfaces.size(), id + 1));
    world.surfaces[id] = surface;
    world.seeThrough = world.seeThrough || surface.opacity < 1;
}

void addInstances(World& world, const Surface& surface, const Material& material, Progress& progress) {
    const RTCScene shape = makeShape(world.rays, surface.meshes->mesh());
    const glm::mat4 pose = matrixOf(surface.pose);
    const ResultColumns& columns = *surface.swarm->columns;
    for (std::size_t k = 0; k < surface.instances.size(); ++k) {
        if (k % 4096 == 0) progress.check();
        const std::size_t i = surface.instances[k];
        const float* m = &columns.matrix[12 * i];
        const glm::mat4 own(m[0], m[4], m[8], 0, m[1], m[5], m[9], 0, m[2], m[6], m[10], 0, m[3], m[7], m[11], 1);
        const std::uint32_t c = columns.colour[i];
        const auto linear = [&](int shift) { return static_cast<float>(linearFromSrgb((c >> shift & 255) / 255.0)); };
        addInstance(world, shape, pose * own,
                    {&surface.meshes->mesh(), {}, {linear(0), linear(8), linear(16)}, static_cast<float>(c >> 24) / 255.0f, material});
    }
}

void addAll(World& world, const DrawList& list, Progress& progress) {
    for (const Surface& surface : list.surfaces) {
        const Material& material = list.materials[static_cast<std::size_t>(surface.material)];
        if (surface.swarm)
            addInstances(world, surface, material, progress);
        else if (!surface.dimmed)
            addInstance(world, makeShape(world.rays, surface.meshes->mesh()), matrixOf(surface.pose),
                        {&surface.meshes->mesh(), {}, vec3(surface.colour), surface.colour.w, material});
    }
}

struct Hit {
    bool any = false;
    vec3 place{0}, normal{0}, tint{1};  ///< tint: the mesh's own colour
    const Seen* surface = nullptr;
};

Hit cast(const World& world, const SunAndSky& light, const vec3& from, const vec3& direction) {
    RTCRayHit ray{};
    ray.ray = {from.x, from.y, from.z, 1e-4f, direction.x, direction.y, direction.z, 0, farAway, ~0u, 0, 0};
    ray.hit.geomID = ray.hit.instID[0] = RTC_INVALID_GEOMETRY_ID;
    RTCIntersectContext context;
    rtcInitIntersectContext(&context);
    rtcIntersect1(world.rays.top, &context, &ray);
    Hit hit;
    if (ray.hit.geomID != RTC_INVALID_GEOMETRY_ID) {
        const Seen& surface = world.surfaces[ray.hit.instID[0]];
        const std::uint32_t* corner = &surface.mesh->triangles[3 * static_cast<std::size_t>(ray.hit.primID)];
        const auto& n = surface.mesh->normals;
        const vec3 local = n[corner[0]] * (1 - ray.hit.u - ray.hit.v) + n[corner[1]] * ray.hit.u + n[corner[2]] * ray.hit.v;
        hit = {true, from + direction * ray.ray.tfar, glm::normalize(surface.normalMatrix * local), vec3(1), &surface};
        if (const auto& c = surface.mesh->colours; !c.empty())
            hit.tint = vec3(c[corner[0]] * (1 - ray.hit.u - ray.hit.v) + c[corner[1]] * ray.hit.u + c[corner[2]] * ray.hit.v);
    } else if (light.ground && direction.y < -1e-6f && from.y > light.groundHeight) {
        const float t = (light.groundHeight - from.y) / direction.y;
        hit = {true, from + direction * t, {0, 1, 0}, vec3(1), nullptr};
    }
    return hit;
}

bool reaches(const World& world, const vec3& from, const vec3& direction) {
    RTCRay ray{from.x, from.y, from.z, 1e-3f, direction.x, direction.y, direction.z, 0, farAway, ~0u, 0, 0};
    RTCIntersectContext context;
    rtcInitIntersectContext(&context);
    rtcOccluded1(world.rays.top, &context, &ray);
    return ray.tfar > 0;
}

constexpr int mostLayers = 64;  ///< see-through surfaces that a ray passes, one behind the other

/// How much of the light from far away gets through.
float reaching(const World& world, vec3 from, const vec3& direction) {
    if (!world.seeThrough) return reaches(world, from, direction) ? 1.0f : 0.0f;
    float through = 1;
    for (int layer = 0; layer < mostLayers && through > 0; ++layer) {
        RTCRayHit ray{};
        ray.ray = {from.x, from.y, from.z, 1e-3f, direction.x, direction.y, direction.z, 0, farAway, ~0u, 0, 0};
        ray.hit.geomID = ray.hit.instID[0] = RTC_INVALID_GEOMETRY_ID;
        RTCIntersectContext context;
        rtcInitIntersectContext(&context);
        rtcIntersect1(world.rays.top, &context, &ray);
        if (ray.hit.geomID == RTC_INVALID_GEOMETRY_ID) return through;
        through *= 1 - world.surfaces[ray.hit.instID[0]].opacity;
        from += direction * ray.ray.tfar;
    }
    return 0;
}

/// Two unit vectors perpendicular to n and each other (Duff et al. 2017).
void basis(const vec3& n, vec3& a, vec3& b) {
    const float sign = std::copysign(1.0f, n.z), p = -1 / (sign + n.z), q = n.x * n.y * p;
    a = {1 + sign * n.x * n.x * p, sign * q, -sign * n.x};
    b = {q, sign + n.y * n.y * p, -n.y};
}

vec3 diskDirection(const vec3& middle, float halfAngle, Dice& dice) {
    vec3 a, b;
    basis(middle, a, b);
    const float r = std::sqrt(dice.next()) * std::tan(halfAngle), around = 2 * pi * dice.next();
    return glm::normalize(middle + (a * std::cos(around) + b * std::sin(around)) * r);
}

vec3 cosineDirection(const vec3& normal, Dice& dice) {
    vec3 a, b;
    basis(normal, a, b);
    const float u = dice.next(), r = std::sqrt(u), around = 2 * pi * dice.next();
    return glm::normalize(a * (r * std::cos(around)) + b * (r * std::sin(around)) + normal * std::sqrt(std::max(0.0f, 1 - u)));
}

/// A microfacet normal as seen from `view` (Heitz 2018).
vec3 visibleNormal(const vec3& normal, const vec3& view, float alpha, Dice& dice) {
    vec3 a, b;
    basis(normal, a, b);
    const vec3 v(glm::dot(view, a), glm::dot(view, b), std::max(glm::dot(view, normal), 1e-4f));
    const vec3 stretched = glm::normalize(vec3(alpha * v.x, alpha * v.y, v.z));
    const float length = stretched.x * stretched.x + stretched.y * stretched.y;
    const vec3 t1 = length > 0 ? vec3(-stretched.y, stretched.x, 0) / std::sqrt(length) : vec3(1, 0, 0);
    const vec3 t2 = glm::cross(stretched, t1);
    const float r = std::sqrt(dice.next()), around = 2 * pi * dice.next();
    const float p1 = r * std::cos(around), s = 0.5f * (1 + stretched.z);
    const float p2 = (1 - s) * std::sqrt(std::max(0.0f, 1 - p1 * p1)) + s * r * std::sin(around);
    const vec3 h = t1 * p1 + t2 * p2 + stretched * std::sqrt(std::max(0.0f, 1 - p1 * p1 - p2 * p2));
    const vec3 facet = glm::normalize(vec3(alpha * h.x, alpha * h.y, std::max(1e-6f, h.z)));
    return glm::normalize(a * facet.x + b * facet.y + normal * facet.z);
}

float smithShadow(float cosine, float alpha) {
    const float c2 = std::max(cosine * cosine, 1e-8f);
    return 2 / (1 + std::sqrt(1 + alpha * alpha * (1 - c2) / c2));
}

vec3 fresnel(const vec3& head, float cosine) { return head + (vec3(1) - head) * std::pow(1 - std::clamp(cosine, 0.0f, 1.0f), 5.0f); }

/// Light that a surface sends toward `view` when the sun shines on it from `sun`.
vec3 sunOn(const vec3& colour, float metal, float alpha, const vec3& normal, const vec3& view, const vec3& sun) {
    const float nl = glm::dot(normal, sun), nv = std::max(glm::dot(normal, view), 1e-3f);
    if (nl <= 0) return vec3(0);
    const vec3 half = glm::normalize(sun + view);
    const float nh = std::max(glm::dot(normal, half), 0.0f), a2 = alpha * alpha, d = nh * nh * (a2 - 1) + 1;
    const vec3 f = fresnel(glm::mix(vec3(0.04f), colour, metal), glm::dot(half, view));
    const vec3 shine = f * (a2 / (pi * d * d) * smithShadow(nl, alpha) * smithShadow(nv, alpha) / (4 * nv));
    return colour * (1 - metal) * (vec3(1) - f) * nl + shine * pi;
}

vec3 path(const World& world, const Setting& setting, vec3 from, vec3 direction, Dice& dice) {
    const SunAndSky& light = setting.light;
    const vec3 sun = towardSun(light), sunLight = vec3(light.sunColour) * light.sunStrength;
    vec3 total(0), share(1);
    for (int bounce = 0; bounce <= bounces; ++bounce) {
        Hit hit = cast(world, light, from, direction);
        // What is partly opaque is met as often as it is opaque; passing it is no bounce.
        for (int layer = 0; hit.surface && hit.surface->opacity < 1 && layer < mostLayers && dice.next() >= hit.surface->opacity; ++layer)
            hit = cast(world, light, hit.place, direction);
        if (!hit.any) return total + share * (bounce == 0 ? setting.background : skyLight(light, direction));
        const vec3 colour = hit.surface ? hit.surface->colour * hit.tint : vec3(light.groundColour);
        const float metal = hit.surface ? hit.surface->material.metal : 0;
        const float roughness = hit.surface ? hit.surface->material.roughness : 0.9f;
        const float alpha = std::max(roughness * roughness, 0.002f);
        const vec3 view = -direction;
        const vec3 normal = glm::dot(hit.normal, view) < 0 ? -hit.normal : hit.normal;
        const vec3 sunRay = diskDirection(sun, light.sunSize * 0.5f, dice);
        vec3 here(0);
        const float sunlit = glm::dot(normal, sunRay) > 0 ? reaching(world, hit.place + normal * 1e-4f, sunRay) : 0;
        if (sunlit > 0) here = sunOn(colour, metal, alpha, normal, view, sunRay) * sunLight * sunlit;
        if (!hit.surface) {
            // The ground fades into the background, so that it has no edge.
            const float distance = glm::length(hit.place - setting.camera.target);
            const float reach = glm::length(setting.camera.position - setting.camera.target);
            const float fade = bounce > 0 ? 0 : std::clamp((distance - reach) / (3 * reach + 1e-3f), 0.0f, 1.0f);
            total += share * setting.background * fade;
            share *= 1 - fade;
        }
        total += share * here;
        const vec3 head = glm::mix(vec3(0.04f), colour, metal);
        const float shine = std::clamp(glm::mix(0.25f, 1.0f, metal), 0.0f, 1.0f);
        if (dice.next() < shine) {
            const vec3 facet = visibleNormal(normal, view, alpha, dice);
            direction = glm::reflect(-view, facet);
            if (glm::dot(direction, normal) <= 0) return total;
            share *= fresnel(head, glm::dot(view, facet)) * smithShadow(glm::dot(direction, normal), alpha) / shine;
        } else {
            direction = cosineDirection(normal, dice);
            share *= colour * (1 - metal) * 0.96f / (1 - shine);
        }
        from = hit.place + normal * 1e-4f;
    }
    return total;
}

}  // namespace

void checkTraceSize(const TraceSize& size) {
    if (size.width < 1 || size.height < 1 || size.width > 16384 || size.height > 16384)
        throw Error("A picture of " + std::to_string(size.width) + " × " + std::to_string(size.height) +
                    " can't be made; each side takes 1 to 16384 pixels.");
    if (size.samples < 1 || size.samples > 4096)
        throw Error(std::to_string(size.samples) + " samples can't be taken; a pixel takes 1 to 4096.");
}

Image trace(const DrawList& list, const Setting& setting, const TraceSize& size, Progress& progress) {
    checkTraceSize(size);
    World world;
    addAll(world, list, progress);
    rtcCommitScene(world.rays.top);
    Image image{size.width, size.height,
                std::vector<std::uint8_t>(4 * static_cast<std::size_t>(size.width) * static_cast<std::size_t>(size.height))};
    const float aspect = static_cast<float>(size.width) / static_cast<float>(size.height);
    const float up = std::tan(verticalFieldOfView(setting.camera, aspect) * 0.5f);
    const glm::mat4 toWorld = glm::inverse(viewMatrix(setting.camera));
    std::atomic<int> rowsDone{0};
    const auto row = [&](std::size_t number) {
        const int y = static_cast<int>(number);
        if (progress.cancelled()) return;
        for (int x = 0; x < size.width; ++x) {
            vec3 sum(0);
            for (int s = 0; s < size.samples; ++s) {
                Dice dice(static_cast<std::uint32_t>(x), static_cast<std::uint32_t>(y), static_cast<std::uint32_t>(s), size.seed);
                const float u = (static_cast<float>(x) + dice.next()) / static_cast<float>(size.width) * 2 - 1;
                const float v = 1 - (static_cast<float>(y) + dice.next()) / static_cast<float>(size.height) * 2;
                const vec3 direction = glm::normalize(vec3(toWorld * glm::vec4(u * up * aspect, v * up, -1, 0)));
                // Single very bright paths would leave specks: a path counts at most this much.
                sum += glm::min(path(world, setting, setting.camera.position, direction, dice), vec3(8));
            }
            const vec3 shown = display(sum / static_cast<float>(size.samples), setting.exposure);
            std::uint8_t* pixel =
                &image.pixels[4 * (static_cast<std::size_t>(y) * static_cast<std::size_t>(size.width) + static_cast<std::size_t>(x))];
            for (int c = 0; c < 3; ++c) pixel[c] = static_cast<std::uint8_t>(shown[c] * 255 + 0.5f);
            pixel[3] = 255;
        }
        progress.report(static_cast<double>(++rowsDone) / size.height);
    };
    forEach(static_cast<std::size_t>(size.height), row);
    progress.check();
    return image;
}

}  // namespace gswarm
