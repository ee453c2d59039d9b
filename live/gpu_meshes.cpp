#include "live/gpu_meshes.h"

#include <epoxy/gl.h>

#include <algorithm>
#include <glm/geometric.hpp>
#include <vector>

#include "core/shape/topology.h"

namespace gswarm::live {
namespace {

void release(GpuMesh& mesh) {
    glDeleteVertexArrays(1, &mesh.vertexArray);
    glDeleteBuffers(1, &mesh.vertices);
    glDeleteBuffers(1, &mesh.indices);
    if (mesh.numbers) glDeleteBuffers(1, &mesh.numbers);
    mesh.numbers = 0;
    mesh.columns.clear();
}

constexpr std::size_t mostLookedAt = 20'000;  ///< triangles

/// Every part of it encloses room.
bool enclosesRoom(const Mesh& mesh) {
    if (mesh.triangleCount() == 0 || mesh.triangleCount() > mostLookedAt) return false;
    const Topology topology = topologyOf(mesh);
    if (!topology.closed()) return false;
    std::vector<double> volumes(topology.components);
    for (std::size_t t = 0; t < mesh.triangleCount(); ++t) {
        const auto corner = [&](std::size_t k) { return glm::dvec3(mesh.positions[mesh.triangles[3 * t + k]]); };
        volumes[topology.component[mesh.faces[t]]] += glm::dot(corner(0), glm::cross(corner(1), corner(2)));
    }
    return std::all_of(volumes.begin(), volumes.end(), [](double volume) { return volume > 0; });
}

}  // namespace

GpuMeshes::~GpuMeshes() {
    for (auto& entry : kept_) release(entry.second);
}

void GpuMeshes::forgetUnused() {
    for (auto it = kept_.begin(); it != kept_.end();) {
        if (it->second.meshes.expired()) {
            release(it->second);
            it = kept_.erase(it);
        } else {
            ++it;
        }
    }
}

const GpuMesh& GpuMeshes::of(const std::shared_ptr<const ShapeMeshes>& meshes, int level) {
    GpuMesh& gpu = kept_[{meshes.get(), level}];
    if (gpu.vertexArray && gpu.meshes.lock() == meshes) return gpu;
    if (gpu.vertexArray) release(gpu);
    const Mesh& mesh = *meshes->level[static_cast<std::size_t>(level)];
    gpu.meshes = meshes;
    gpu.indexCount = static_cast<int>(mesh.triangles.size());
    gpu.solid.reset();
    gpu.reach = 0;
    for (const glm::vec3& position : mesh.positions) gpu.reach = std::max(gpu.reach, glm::length(position));
    glGenVertexArrays(1, &gpu.vertexArray);
    glBindVertexArray(gpu.vertexArray);
    std::vector<float> vertices;
    vertices.reserve(mesh.positions.size() * 11);
    for (std::size_t i = 0; i < mesh.positions.size(); ++i) {
        const glm::vec3 colour = mesh.colours.empty() ? glm::vec3(1) : glm::vec3(mesh.colours[i]);
        for (const auto& v : {mesh.positions[i], mesh.normals[i], colour}) vertices.insert(vertices.end(), {v.x, v.y, v.z});
        vertices.insert(vertices.end(), {mesh.uv[i].x, mesh.uv[i].y});
    }
    glGenBuffers(1, &gpu.vertices);
    glBindBuffer(GL_ARRAY_BUFFER, gpu.vertices);
    glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(vertices.size() * 4), vertices.data(), GL_STATIC_DRAW);
    const unsigned attributes[] = {0, 1, 6, 8};
    for (unsigned a = 0; a < 4; ++a) {
        glEnableVertexAttribArray(attributes[a]);
        glVertexAttribPointer(attributes[a], a == 3 ? 2 : 3, GL_FLOAT, GL_FALSE, 44,
                              reinterpret_cast<void*>(static_cast<std::uintptr_t>(a * 12)));
    }
    gpu.vertexCount = static_cast<int>(mesh.positions.size());
    std::vector<float> numbers;
    for (const NamedNumbers& named : mesh.numbers) {
        gpu.columns.push_back(named.name);
        numbers.insert(numbers.end(), named.numbers.begin(), named.numbers.end());
    }
    if (!numbers.empty()) {
        glGenBuffers(1, &gpu.numbers);
        glBindBuffer(GL_ARRAY_BUFFER, gpu.numbers);
        glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(numbers.size() * 4), numbers.data(), GL_STATIC_DRAW);
    }
    glGenBuffers(1, &gpu.indices);
    glBindBuffer(GL_ELEMENT_ARRAY_BUFFER, gpu.indices);
    glBufferData(GL_ELEMENT_ARRAY_BUFFER, static_cast<GLsizeiptr>(mesh.triangles.size() * 4), mesh.triangles.data(), GL_STATIC_DRAW);
    for (unsigned a = 2; a < 6; ++a) {
        glEnableVertexAttribArray(a);
        glVertexAttribDivisor(a, 1);
    }
    return gpu;
}

bool GpuMeshes::isSolid(const std::shared_ptr<const ShapeMeshes>& meshes, int level) {
    of(meshes, level);
    std::optional<bool>& solid = kept_[{meshes.get(), level}].solid;
    if (!solid) solid = enclosesRoom(*meshes->level[static_cast<std::size_t>(level)]);
    return *solid;
}

void GpuMeshes::useNumber(const GpuMesh& mesh, const std::string& value) {
    constexpr unsigned attribute = 9;
    const auto found = std::find(mesh.columns.begin(), mesh.columns.end(), value);
    if (found == mesh.columns.end()) {
        glDisableVertexAttribArray(attribute);
        glVertexAttrib1f(attribute, 0);
        return;
    }
    const auto column = static_cast<std::size_t>(found - mesh.columns.begin());
    glBindBuffer(GL_ARRAY_BUFFER, mesh.numbers);
    glEnableVertexAttribArray(attribute);
    glVertexAttribPointer(attribute, 1, GL_FLOAT, GL_FALSE, 4,
                          reinterpret_cast<void*>(column * static_cast<std::size_t>(mesh.vertexCount) * 4));
}

}  // namespace gswarm::live
