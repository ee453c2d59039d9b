#include "core/exchange/realised.h"

#include <array>
#include <cstdio>
#include <glm/gtc/matrix_inverse.hpp>

#include "core/base/error.h"
#include "core/picture/moments.h"

namespace gswarm {
namespace {

std::string inWords(double count) {
    char text[32];
    std::snprintf(text, sizeof text, "%.0f", count);
    std::string digits = text;
    for (int at = static_cast<int>(digits.size()) - 3; at > 0; at -= 3) digits.insert(static_cast<std::size_t>(at), " ");
    return digits;
}

void moveTo(const glm::mat4& matrix, RealisedThing& thing) {
    const Mesh& mesh = thing.mesh;
    const glm::mat3 turned = glm::inverseTranspose(glm::mat3(matrix));
    thing.positions.resize(mesh.positions.size());
    thing.normals.resize(mesh.normals.size());
    for (std::size_t i = 0; i < mesh.positions.size(); ++i) {
        thing.positions[i] = glm::vec3(matrix * glm::vec4(mesh.positions[i], 1));
        const glm::vec3 n = turned * mesh.normals[i];
        const float length = glm::length(n);
        // What is flattened to nothing has no normal: its own stays.
        thing.normals[i] = length > 0 && std::isfinite(length) ? n / length : mesh.normals[i];
    }
    thing.triangles = mesh.triangles;
    if (glm::determinant(glm::mat3(matrix)) < 0)
        for (std::size_t t = 0; t + 2 < thing.triangles.size(); t += 3) std::swap(thing.triangles[t + 1], thing.triangles[t + 2]);
}

}  // namespace

RealisedCount realisedCount(const DrawList& list) {
    RealisedCount count;
    for (const Surface& surface : list.surfaces) {
        const auto things = static_cast<double>(thingCount(surface));
        count.vertices += things * static_cast<double>(surface.meshes->mesh().positions.size());
        count.triangles += things * static_cast<double>(surface.meshes->mesh().triangleCount());
    }
    return count;
}

void checkRealised(const RealisedCount& count) {
    constexpr double most = 2147483647;
    if (count.vertices > most || count.triangles > most)
        throw Error("As meshes that are " + inWords(count.vertices) + " vertices and " + inWords(count.triangles) +
                    " triangles, more than the format can count (2 147 483 647); nothing was written. Write points or instances instead.");
}

void realise(const DrawList& list, Progress& progress, const std::function<void(const RealisedThing&)>& take) {
    const std::array once{list};
    std::vector<glm::mat4> matrices(thingCount(list));
    eachThing(once, progress, [&](std::uint32_t number, std::span<const glm::mat4> at) { matrices[number] = at.front(); });
    std::size_t number = 0;
    for (const Surface& surface : list.surfaces) {
        RealisedThing thing{surface, 0, surface.meshes->mesh(), {}, {}, {}, surface.colour};
        for (std::size_t k = 0; k < thingCount(surface); ++k, ++number) {
            if (number % 256 == 0) {
                progress.check();
                progress.report(static_cast<double>(number) / static_cast<double>(matrices.size()));
            }
            if (surface.swarm) {
                thing.row = surface.instances()[k];
                thing.colour = surface.colourOf(thing.row);
            }
            moveTo(matrices[number], thing);
            take(thing);
        }
    }
}

}  // namespace gswarm
