#include "core/picture/glow_lights.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <glm/matrix.hpp>

#include "core/base/parallel.h"
#include "core/picture/largest.h"

namespace gswarm {
namespace {

using glm::vec3;

bool gives(const Look& look) { return look.mix ? gives(look.mix->first) || gives(look.mix->second) : look.plain.emission > 0; }

/// Of a triangle in the world: twice its area along its normal.
vec3 spanned(const Mesh& mesh, const glm::mat4& pose, std::uint32_t triangle) {
    const std::uint32_t* corner = &mesh.triangles[3 * static_cast<std::size_t>(triangle)];
    const auto& p = mesh.positions;
    const glm::mat3 turned(pose);
    return glm::cross(turned * (p[corner[1]] - p[corner[0]]), turned * (p[corner[2]] - p[corner[0]]));
}

}  // namespace

GlowLights::GlowLights(const TraceWorld& world) : world_(&world), tree_({}) {
    gather();
    std::vector<LightBox> boxes = this->boxes();
    // What doesn't glow at any of the places that were looked at is only met.
    std::size_t kept = 0;
    for (std::size_t k = 0; k < things_.size(); ++k)
        if (boxes[k].power > 0 && std::isfinite(boxes[k].power)) things_[kept] = things_[k], boxes[kept++] = boxes[k];
    things_.resize(kept), boxes.resize(kept);
    if (kept == 0) return;
    tree_ = LightTree(std::move(boxes));
    thingOf_.assign(world.seen().size(), -1);
    for (std::size_t k = 0; k < things_.size(); ++k) thingOf_[things_[k].geometry] = static_cast<std::int32_t>(k);
}

void GlowLights::gather() {
    const auto seen = world_->seen();
    for (std::uint32_t g = 0; g < seen.size(); ++g) {
        if (seen[g].joined || seen[g].moves || !gives(world_->lookOf(seen[g]))) continue;
        if (things_.size() == mostGlowing) {
            things_.clear();
            return;
        }
        const Skin& skin = skinOf(world_->meshOf(seen[g]));
        if (!skin.areas.empty() && skin.areas.back() > 0) things_.push_back({g, &skin, world_->poseOf(g)});
    }
}

const GlowLights::Skin& GlowLights::skinOf(const Mesh& mesh) {
    auto& skin = skins_[&mesh];
    if (skin) return *skin;
    skin = std::make_unique<Skin>();
    double sum = 0;
    for (std::uint32_t t = 0; t < mesh.triangleCount(); ++t)
        skin->areas.push_back(sum += double(glm::length(spanned(mesh, glm::mat4(1), t))) / 2);
    for (const vec3& position : mesh.positions) skin->low = glm::min(skin->low, position), skin->high = glm::max(skin->high, position);
    return *skin;
}

std::vector<LightBox> GlowLights::boxes() {
    constexpr std::uint32_t asked = 5;
    std::vector<LightBox> boxes(things_.size());
    forRanges(things_.size(), 512, [&](std::size_t begin, std::size_t end) {
        for (std::size_t k = begin; k < end; ++k) {
            const Thing& thing = things_[k];
            const Mesh& mesh = world_->meshOf(world_->seen()[thing.geometry]);
            LightBox& box = boxes[k];
            box.low = vec3(1e30f), box.high = vec3(-1e30f);
            for (int corner = 0; corner < 8; ++corner) {
                const glm::bvec3 far(corner & 1, corner & 2, corner & 4);
                const vec3 place = thing.pose * glm::vec4(glm::mix(thing.skin->low, thing.skin->high, far), 1);
                box.low = glm::min(box.low, place), box.high = glm::max(box.high, place);
            }
            const auto count = static_cast<std::uint32_t>(mesh.triangleCount()), some = std::min(count, asked);
            float bright = 0;
            for (std::uint32_t a = 0; a < some; ++a) {
                const Hit hit = world_->hitOn(thing.geometry, thing.pose, static_cast<std::uint32_t>(std::uint64_t{a} * count / some),
                                              1.0f / 3, 1.0f / 3);
                bright += largestOf(glowOf(world_->materialAt(hit, hit.flat)));
            }
            const float scale = std::cbrt(std::abs(glm::determinant(glm::mat3(thing.pose))));
            box.power = static_cast<float>(thing.skin->areas.back()) * scale * scale * bright / static_cast<float>(some);
        }
    });
    return boxes;
}

GlowLight GlowLights::sample(const vec3& place, float choose, float triangle, float u, float v) const {
    GlowLight out;
    const LightTree::Picked picked = tree_.pick(place, choose);
    const Thing& thing = things_[static_cast<std::size_t>(picked.light)];
    const auto& areas = thing.skin->areas;
    const auto found = std::upper_bound(areas.begin(), areas.end(), double(triangle) * areas.back());
    const auto which =
        static_cast<std::uint32_t>(std::min<std::ptrdiff_t>(found - areas.begin(), static_cast<std::ptrdiff_t>(areas.size()) - 1));
    const float root = std::sqrt(u);
    const Hit hit = world_->hitOn(thing.geometry, thing.pose, which, root * (1 - v), root * v);
    const vec3 way = hit.place - place;
    const float square = glm::dot(way, way);
    if (!(square > 1e-10f)) return out;
    out.distance = std::sqrt(square);
    out.direction = way / out.distance;
    const float area = glm::length(spanned(*hit.mesh, thing.pose, which)) / 2, cosine = std::abs(glm::dot(hit.flat, out.direction));
    if (!(area > 0) || !(cosine > 1e-6f)) return out;
    out.density = picked.chance * static_cast<float>(thing.skin->shareOf(which)) / area * square / cosine;
    const Material material = world_->materialAt(hit, -out.direction);
    const vec3 glow = glowOf(material) * world_->opacityAt(hit, material, -out.direction);
    if (out.density > 0) out.light = glow / out.density;
    return out;
}

float GlowLights::densityOf(const Hit& hit, const vec3& from, const vec3& direction) const {
    if (empty() || !hit.mesh) return 0;
    const std::int32_t which = thingOf_[hit.geometry];
    if (which < 0) return 0;
    const Thing& thing = things_[static_cast<std::size_t>(which)];
    const float area = glm::length(spanned(*hit.mesh, thing.pose, hit.triangle)) / 2, cosine = std::abs(glm::dot(hit.flat, direction));
    if (!(area > 0) || !(cosine > 1e-6f)) return 0;
    const auto share = static_cast<float>(thing.skin->shareOf(hit.triangle));
    return tree_.chanceOf(which, from) * share / area * hit.distance * hit.distance / cosine;
}

}  // namespace gswarm
