#include "core/shape/carried.h"

#include <algorithm>
#include <array>
#include <glm/geometric.hpp>

#include "core/shape/shape_kind.h"
#include "core/shape/topology.h"

namespace gswarm {
namespace {

/// A face's other two corners, seen from one of them.
using Span = std::array<std::uint32_t, 2>;

/// The corners of some spans one after the other; `own` where the next span does not begin with the last corner.
void addRing(std::vector<Span>& spans, std::uint32_t own, std::vector<std::uint32_t>& ring) {
    ring.clear();
    std::sort(spans.begin(), spans.end());
    std::vector<std::uint32_t> ends;
    for (const Span& span : spans) ends.push_back(span[1]);
    std::sort(ends.begin(), ends.end());
    std::vector<bool> used(spans.size(), false);
    const auto follow = [&](std::size_t span) {
        if (used[span]) return;
        if (!ring.empty()) ring.push_back(own);
        ring.push_back(spans[span][0]);
        while (span < spans.size()) {
            used[span] = true;
            const std::uint32_t to = spans[span][1];
            ring.push_back(to);
            span = static_cast<std::size_t>(std::lower_bound(spans.begin(), spans.end(), Span{to, 0}) - spans.begin());
            while (span < spans.size() && spans[span][0] == to && used[span]) ++span;
            if (span < spans.size() && spans[span][0] != to) span = spans.size();
        }
    };
    // A fan begins where nothing leads to, so that it is open at no other place.
    for (std::size_t s = 0; s < spans.size(); ++s)
        if (!std::binary_search(ends.begin(), ends.end(), spans[s][0])) follow(s);
    for (std::size_t s = 0; s < spans.size(); ++s) follow(s);
}

/// The first vertex of its corner that has the same normal.
std::vector<std::uint32_t> smoothWith(const Mesh& mesh, const Topology& topology) {
    std::vector<std::uint32_t> first(topology.places.size(), ~0u), next(mesh.positions.size(), ~0u), with(mesh.positions.size());
    for (std::uint32_t v = 0; v < mesh.positions.size(); ++v) {
        constexpr float alike = 0.999f;  // cosine
        with[v] = v;
        std::uint32_t last = ~0u;
        for (std::uint32_t o = first[topology.corner[v]]; o != ~0u; last = o, o = next[o])
            if (with[o] == o && glm::dot(mesh.normals[o], mesh.normals[v]) > alike && with[v] == v) with[v] = o;
        (last == ~0u ? first[topology.corner[v]] : next[last]) = v;
    }
    return with;
}

}  // namespace

CarriedRest carriedRest(std::shared_ptr<const ShapeMeshes> base) {
    const Mesh& mesh = base->mesh();
    Topology topology = topologyOf(mesh);
    const std::size_t vertices = mesh.positions.size();
    const auto with = smoothWith(mesh, topology);
    // The faces of each group of vertices that are smooth with each other, under its first vertex.
    std::vector<std::uint32_t> begin(vertices + 1, 0);
    for (const std::uint32_t v : mesh.triangles) ++begin[with[v] + 1];
    for (std::size_t v = 0; v < vertices; ++v) begin[v + 1] += begin[v];
    std::vector<Span> spans(mesh.triangles.size());
    auto at = begin;
    for (std::size_t t = 0; t < mesh.triangles.size(); t += 3)
        for (std::size_t k = 0; k < 3; ++k) {
            const auto corner = [&](std::size_t n) { return topology.corner[mesh.triangles[t + n % 3]]; };
            spans[at[with[mesh.triangles[t + k]]]++] = {corner(k + 1), corner(k + 2)};
        }
    CarriedRest rest;
    std::array<std::vector<std::uint32_t>, CarriedRest::row> rings;
    std::vector<Span> around;
    for (std::size_t first = 0; first < vertices; first += CarriedRest::row) {
        std::size_t longest = 0;
        std::array<std::uint32_t, CarriedRest::row> own;
        for (std::size_t k = 0; k < CarriedRest::row; ++k) {
            const std::size_t v = std::min(first + k, vertices - 1);
            own[k] = topology.corner[v];
            rest.corner.push_back(own[k]);
            around.assign(spans.begin() + begin[with[v]], spans.begin() + begin[with[v] + 1]);
            addRing(around, own[k], rings[k]);
            longest = std::max(longest, rings[k].size());
        }
        rest.rings.push_back({static_cast<std::uint32_t>(rest.ring.size()), static_cast<std::uint32_t>(longest), 0});
        for (std::size_t n = 0; n < longest; ++n) {
            std::array<std::uint32_t, CarriedRest::row> place;
            bool follow = n < 64;
            for (std::size_t k = 0; k < CarriedRest::row; ++k) {
                place[k] = n < rings[k].size() ? rings[k][n] : own[k];
                follow = follow && place[k] == place[0] + k;
            }
            rest.ring.insert(rest.ring.end(), place.begin(), follow ? place.begin() + 1 : place.end());
            if (follow) rest.rings.back().straight |= std::uint64_t{1} << n;
        }
    }
    rest.places = std::move(topology.places);
    rest.base = std::move(base);
    return rest;
}

std::size_t CarriedRest::bytes() const {
    return places.size() * sizeof places[0] + (corner.size() + ring.size()) * sizeof ring[0] + rings.size() * sizeof rings[0];
}

std::shared_ptr<const ShapeMeshes> CarriedMeshes::get(std::uint64_t hash, const std::function<void(Carried&)>& fill) {
    constexpr std::size_t most = 4;
    Carried carried;
    Mesh memory;
    {
        const std::lock_guard lock(mutex_);
        for (const Made& made : made_)
            if (hash != 0 && made.hash == hash) return made.meshes;
        std::swap(carried, columns_);
        const auto unused = std::find_if(made_.begin(), made_.end(), [](const Made& m) { return m.meshes.use_count() == 1; });
        if (unused != made_.end() && made_.size() >= 2) {
            unused->meshes = nullptr;
            if (unused->mesh.use_count() == 1) memory = std::move(*unused->mesh);
            made_.erase(unused);
        }
    }
    for (auto* column : {&carried.x, &carried.y, &carried.z}) column->resize(rest_->places.size());
    carried.colours.clear();
    fill(carried);
    auto meshes = std::make_shared<ShapeMeshes>();
    const auto mesh = std::make_shared<Mesh>(carriedMesh(*rest_, carried, std::move(memory), meshes->bounds));
    meshes->level.fill(mesh);
    meshes->hash = hash;
    const std::lock_guard lock(mutex_);
    std::swap(carried, columns_);
    if (made_.size() >= most) made_.erase(made_.begin());
    made_.push_back({hash, mesh, meshes});
    return meshes;
}

}  // namespace gswarm
