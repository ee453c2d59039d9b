#include "live/casters.h"

#include <epoxy/gl.h>

#include <algorithm>
#include <array>
#include <atomic>
#include <cmath>
#include <glm/geometric.hpp>
#include <map>

#include "core/base/parallel.h"
#include "core/shape/shape_kind.h"
#include "live/lamp_lists.h"
#include "live/nested.h"
#include "live/shader_texts.h"

namespace gswarm::live {
namespace {

constexpr std::size_t slice = 16384;         ///< instances drawn by one call
constexpr std::size_t mostLeaves = 300'000;  ///< of nested surfaces that are looked at
constexpr float mostCardPixels = 12;         ///< of the map, up to which a card stands for an instance

bool casts(const DrawList& list, const Surface& surface) {
    return !surface.dimmed && !surface.meshes->mesh().triangles.empty() &&
           !seesThrough(list.looks[static_cast<std::size_t>(surface.look)]) && (surface.swarm || surface.colour.w >= 1);
}

constexpr unsigned cardCorners[6] = {0, 1, 2, 2, 1, 3};

/// A card as wide as a box that is seen along Z; its three half axes.
void addCard(std::vector<glm::vec3>& cards, const glm::vec3& at, std::array<glm::vec3, 3> axes) {
    const auto length = [](const glm::vec3& v) { return v.x * v.x + v.y * v.y; };
    std::sort(axes.begin(), axes.end(), [&](const glm::vec3& a, const glm::vec3& b) { return length(a) > length(b); });
    // What the shortest adds goes to the one that it lies along less.
    const float along = std::abs(axes[2].x * axes[0].x + axes[2].y * axes[0].y) / std::max(length(axes[0]), 1e-20f);
    const glm::vec3 wide = axes[0] * (1 + along);
    const float aside = std::abs(axes[2].x * axes[1].x + axes[2].y * axes[1].y) / std::max(length(axes[1]), 1e-20f);
    const glm::vec3 high = axes[1] * (1 + std::min(aside, 1.0f));
    for (const glm::vec3& row : {at - high, at + high}) cards.push_back(row - wide), cards.push_back(row + wide);
}

/// Of every so many instances one, as large as all. Those in the instances of other swarms get matrices into the world.
void sort(const Surface& surface, const ShadowView& view, std::size_t stride, Sorted& out) {
    static constexpr float still[12] = {1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0};
    const glm::mat4 toLight = view.toLight * surface.pose;
    const Bounds& bounds = surface.meshes->bounds;
    const float larger = std::sqrt(static_cast<float>(stride));
    const glm::vec3 middle = bounds.centre(), across = bounds.size() * (0.9f * larger);  // a box is more than what is in it
    const float widest = std::max({bounds.size().x, bounds.size().y, bounds.size().z}) * scaleOf(surface.pose) * larger;
    const auto rows = surface.instances();
    const std::size_t count = surface.swarm ? rows.size() : 1;
    for (std::size_t k = 0; k < count; k += stride) {
        // What is seen through casts none: fainter shadows would need the colour of each.
        if (surface.swarm && surface.swarm->columns->colour[rows[k]] >> 24 < 128) continue;
        const float* m = surface.swarm ? &surface.swarm->columns->matrix[12 * std::size_t{rows[k]}] : still;
        const glm::mat3 turn{m[0], m[4], m[8], m[1], m[5], m[9], m[2], m[6], m[10]};
        const glm::vec3 at = glm::vec3(toLight * glm::vec4(turn * middle + glm::vec3(m[3], m[7], m[11]), 1));
        const float size = widest * (std::abs(m[0]) + std::abs(m[4]) + std::abs(m[8]));
        if (!view.parallel) {
            if (at.z > size) continue;  // behind the lamp
            const glm::vec4 there = view.toMap * glm::vec4(at, 1);
            const float reach = there.w + size * 4;
            if (std::abs(there.x) > reach || std::abs(there.y) > reach) continue;
        }
        if (size * view.pixels > mostCardPixels * (view.parallel ? 1 : std::max(-at.z, 0.01f))) {
            float world[12];
            if (isNested(surface)) leafMatrix(surface.pose, m, larger, world);
            const float* from = isNested(surface) ? world : m;
            out.whole.insert(out.whole.end(), from, from + 12);
            continue;
        }
        const glm::mat3 own = glm::mat3(toLight) * turn;
        addCard(out.cards, at, {own[0] * (across.x / 2), own[1] * (across.y / 2), own[2] * (across.z / 2)});
    }
}

/// Of how many leaves of nested surfaces one casts a shadow.
std::size_t strideOf(const DrawList& list) {
    std::size_t leaves = 0;
    for (const Surface& surface : list.surfaces)
        if (isNested(surface)) leaves += surface.instances().size();
    return leaves / mostLeaves + 1;
}

void drawWhole(const GpuMesh& mesh, const std::vector<float>& matrices, unsigned matrixBuffer) {
    glBindVertexArray(mesh.vertexArray);
    glDisableVertexAttribArray(5);
    for (std::size_t first = 0; first < matrices.size(); first += 12 * slice) {
        const std::size_t here = std::min(12 * slice, matrices.size() - first);
        glBindBuffer(GL_ARRAY_BUFFER, matrixBuffer);
        glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(here * 4), &matrices[first], GL_STREAM_DRAW);
        for (unsigned row = 0; row < 3; ++row)
            glVertexAttribPointer(2 + row, 4, GL_FLOAT, GL_FALSE, 48, reinterpret_cast<void*>(static_cast<std::uintptr_t>(row * 16)));
        glDrawElementsInstanced(GL_TRIANGLES, mesh.indexCount, GL_UNSIGNED_INT, nullptr, static_cast<int>(here / 12));
    }
    glEnableVertexAttribArray(5);
}

}  // namespace

std::vector<Cast> castsOf(const DrawList& list) {
    std::vector<Cast> all;
    for (const Surface& surface : list.surfaces)
        if (casts(list, surface))
            all.push_back({surface.swarm, surface.meshes, surface.pose, surface.swarm ? surface.instances().size() : 1});
    return all;
}

std::size_t castersOf(const DrawList& list, const Lamp& lamp) {
    std::atomic<std::size_t> sum = 0;
    for (const Surface& surface : list.surfaces) {
        if (!casts(list, surface)) continue;
        if (!surface.swarm) {
            ++sum;
            continue;
        }
        const auto rows = surface.instances();
        const Bounds& bounds = surface.meshes->bounds;
        const float reach = (glm::length(bounds.centre()) + glm::length(bounds.size()) * 0.5f) * scaleOf(surface.pose);
        forRanges(rows.size(), 4096, [&](std::size_t begin, std::size_t end) {
            std::size_t here = 0;
            for (std::size_t k = begin; k < end; ++k) {
                const float* m = &surface.swarm->columns->matrix[12 * std::size_t{rows[k]}];
                const float size = std::abs(m[0]) + std::abs(m[4]) + std::abs(m[8]);
                here += mayLight(lamp, glm::vec3(surface.pose * glm::vec4(m[3], m[7], m[11], 1)), reach * size);
            }
            sum += here;
        });
    }
    return sum;
}

Bounds boundsOf(const std::vector<Cast>& casts) {
    Bounds bounds;
    for (const Cast& cast : casts) {
        // Of a swarm its instances' middles, and by how much the mesh reaches beyond.
        const Bounds& own = cast.swarm ? cast.swarm->bounds : cast.meshes->bounds;
        if (own.empty()) continue;
        const float beyond = cast.swarm ? glm::length(cast.meshes->bounds.size()) * scaleOf(cast.pose) : 0;
        for (int k = 0; k < 8; ++k) {
            const glm::vec3 corner =
                own.centre() + glm::vec3(k & 1 ? 0.5f : -0.5f, k & 2 ? 0.5f : -0.5f, k & 4 ? 0.5f : -0.5f) * own.size();
            const glm::vec3 there(cast.pose * glm::vec4(corner, 1));
            bounds.add(there - beyond), bounds.add(there + beyond);
        }
    }
    return bounds;
}

CasterDrawer::CasterDrawer() : program_({}, "", shadowVert(), shadowFrag()) {
    std::vector<unsigned> indices;
    for (unsigned card = 0; card < slice; ++card)
        for (const unsigned corner : cardCorners) indices.push_back(4 * card + corner);
    glGenVertexArrays(1, &cards_);
    glBindVertexArray(cards_);
    glGenBuffers(1, &corners_);
    glBindBuffer(GL_ARRAY_BUFFER, corners_);
    glEnableVertexAttribArray(0);
    glVertexAttribPointer(0, 3, GL_FLOAT, GL_FALSE, 0, nullptr);
    glGenBuffers(1, &indices_);
    glBindBuffer(GL_ELEMENT_ARRAY_BUFFER, indices_);
    glBufferData(GL_ELEMENT_ARRAY_BUFFER, static_cast<GLsizeiptr>(indices.size() * 4), indices.data(), GL_STATIC_DRAW);
}

CasterDrawer::~CasterDrawer() {
    glDeleteVertexArrays(1, &cards_);
    glDeleteBuffers(1, &corners_);
    glDeleteBuffers(1, &indices_);
}

void CasterDrawer::drawCards(const glm::mat4& toMap, const std::vector<glm::vec3>& corners) {
    program_.set("toLight", toMap);
    glBindVertexArray(cards_);
    glBindBuffer(GL_ARRAY_BUFFER, corners_);
    const float still[3][4] = {{1, 0, 0, 0}, {0, 1, 0, 0}, {0, 0, 1, 0}};
    for (unsigned row = 0; row < 3; ++row) glVertexAttrib4fv(2 + row, still[row]);
    for (std::size_t first = 0; first < corners.size(); first += 4 * slice) {
        const std::size_t here = std::min(4 * slice, corners.size() - first);
        glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(here * sizeof corners.front()), &corners[first], GL_STREAM_DRAW);
        glDrawElements(GL_TRIANGLES, static_cast<int>(here / 4 * std::size(cardCorners)), GL_UNSIGNED_INT, nullptr);
    }
}

void CasterDrawer::drawSorted(const ShadowView& view, const glm::mat4& pose, const GpuMesh& mesh, const Sorted& casters,
                              unsigned matrixBuffer) {
    program_.set("toLight", view.toMap * view.toLight * pose);
    drawWhole(mesh, casters.whole, matrixBuffer);
    drawCards(view.toMap, casters.cards);
}

void CasterDrawer::draw(const DrawList& list, const ShadowView& view, std::size_t stride, GpuMeshes& meshes, unsigned matrixBuffer) {
    glDepthMask(GL_TRUE);
    glEnable(GL_POLYGON_OFFSET_FILL);
    glPolygonOffset(2, 4);
    program_.bind();
    const std::size_t nestedStride = std::max(stride, strideOf(list));
    std::map<std::shared_ptr<const ShapeMeshes>, Sorted> nested;
    for (const Surface& surface : list.surfaces) {
        if (!casts(list, surface)) continue;
        if (isNested(surface)) {
            sort(surface, view, nestedStride, nested[surface.meshes]);
            continue;
        }
        Sorted casters;
        sort(surface, view, stride, casters);
        drawSorted(view, surface.pose, meshes.of(surface.meshes, detailLevels - 1), casters, matrixBuffer);
    }
    for (const auto& [mesh, casters] : nested) drawSorted(view, glm::mat4(1), meshes.of(mesh, detailLevels - 1), casters, matrixBuffer);
    glDisable(GL_POLYGON_OFFSET_FILL);
}

DepthMap::DepthMap(int size) {
    glGenTextures(1, &texture);
    glBindTexture(GL_TEXTURE_2D, texture);
    glTexImage2D(GL_TEXTURE_2D, 0, GL_DEPTH_COMPONENT32F, size, size, 0, GL_DEPTH_COMPONENT, GL_FLOAT, nullptr);
    for (const auto& [name, value] : {std::pair{GL_TEXTURE_MIN_FILTER, GL_LINEAR},
                                      {GL_TEXTURE_MAG_FILTER, GL_LINEAR},
                                      {GL_TEXTURE_WRAP_S, GL_CLAMP_TO_EDGE},
                                      {GL_TEXTURE_WRAP_T, GL_CLAMP_TO_EDGE},
                                      {GL_TEXTURE_COMPARE_MODE, GL_COMPARE_REF_TO_TEXTURE},
                                      {GL_TEXTURE_COMPARE_FUNC, GL_LEQUAL}})
        glTexParameteri(GL_TEXTURE_2D, static_cast<GLenum>(name), value);
    glGenFramebuffers(1, &frame);
    glBindFramebuffer(GL_FRAMEBUFFER, frame);
    glFramebufferTexture2D(GL_FRAMEBUFFER, GL_DEPTH_ATTACHMENT, GL_TEXTURE_2D, texture, 0);
    glDrawBuffer(GL_NONE);
    glReadBuffer(GL_NONE);
}

DepthMap::~DepthMap() {
    glDeleteFramebuffers(1, &frame);
    glDeleteTextures(1, &texture);
}

}  // namespace gswarm::live
