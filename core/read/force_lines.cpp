#include "core/read/force_lines.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

#include "core/base/error.h"
#include "core/flow/weigh.h"
#include "core/prepare/force_plan.h"
#include "core/prepare/rail_plan.h"
#include "core/resolve/resolve.h"

namespace gswarm {
namespace {

constexpr int mostLines = 240, stepsOfLine = 8;
constexpr float beyond = 0.15f;     ///< of the swarm's extent, around it
constexpr float lineLength = 0.9f;  ///< of the way from one to the next, where the force is strongest
constexpr float weakest = 0.02f;    ///< of the strongest; what is weaker has no line

void dropThoseOfInstances(std::vector<WeaveStep>& steps) {
    std::erase_if(steps,
                  [](const WeaveStep& step) { return step.kind && step.kind->instancesOnly && step.kind->instancesOnly(step.data.get()); });
    for (WeaveStep& step : steps) dropThoseOfInstances(step.group);
}

/// Places in the middle of the cells of a lattice whose cells are nearly cubes.
struct Places {
    std::vector<glm::vec3> at;
    float apart = 1;

    explicit Places(const Bounds& bounds) {
        const float largest = std::max({bounds.size().x, bounds.size().y, bounds.size().z, 1e-3f});
        const glm::vec3 size = bounds.size() + glm::vec3(2 * beyond * largest);
        apart = std::cbrt(size.x * size.y * size.z / mostLines);
        glm::ivec3 counts;
        for (int a = 0; a < 3; ++a) counts[a] = std::max(1, static_cast<int>(size[a] / apart));
        const glm::vec3 low = bounds.centre() - size / 2.0f, cell = size / glm::vec3(counts);
        for (int z = 0; z < counts.z; ++z)
            for (int y = 0; y < counts.y; ++y)
                for (int x = 0; x < counts.x; ++x) at.push_back(low + cell * (glm::vec3(x, y, z) + 0.5f));
    }
};

/// What the force does at rest, at each place.
std::vector<glm::vec3> pushAt(const std::vector<glm::vec3>& places, const std::vector<ForceStep>& force, const Moment& moment,
                              Block& block) {
    std::vector<glm::vec3> pushes;
    ForceColumns felt;
    for (std::size_t first = 0; first < places.size(); first += blockSize) {
        const std::size_t count = std::min<std::size_t>(blockSize, places.size() - first);
        block.count = static_cast<int>(count);
        for (std::size_t i = 0; i < static_cast<std::size_t>(paddedCount(block)); ++i) {
            const glm::vec3& place = places[first + std::min(i, count - 1)];
            block.place.x[i] = place.x, block.place.y[i] = place.y, block.place.z[i] = place.z;
        }
        feelForces(force, moment, block, felt);
        for (std::size_t i = 0; i < count; ++i) pushes.emplace_back(felt.push.x[i], felt.push.y[i], felt.push.z[i]);
    }
    return pushes;
}

void addArrow(std::vector<glm::vec3>& line, float length) {
    const glm::vec3 end = line.back(), way = end - line[line.size() - 2];
    if (!(glm::length(way) > 1e-9f)) return;
    const glm::vec3 along = glm::normalize(way), helper = std::abs(along.y) < 0.9f ? glm::vec3(0, 1, 0) : glm::vec3(1, 0, 0);
    const glm::vec3 side = glm::normalize(glm::cross(along, helper));
    line.push_back(end + (side * 0.5f - along) * length);
    line.push_back(end);
    line.push_back(end + (-side * 0.5f - along) * length);
}

}  // namespace

ForceLines forceLinesOf(const Scene& scene, ObjectId force, const Result& around, const PlanOptions& options, Store& store,
                        Progress& progress) {
    ForceLines found{force, {}};
    const double frame = around.moment.frame;
    if (around.home.bounds.empty() || !switchAt(scene, scene.at(force).part("place"), "on", frame)) return found;
    try {
        RailSource source = railSourceOf(scene, around.swarm, frame, options, store, progress);
        std::vector<ForceStep> steps{forceAt(scene, scene.at(force), source, store)};
        dropThoseOfInstances(steps.front().weave);
        Bounds world;
        for (int corner = 0; corner < 8; ++corner) {
            glm::vec3 p;
            for (int a = 0; a < 3; ++a) p[a] = (corner >> a & 1) ? around.home.bounds.high[a] : around.home.bounds.low[a];
            world.add(around.pose.toWorld(p));
        }
        const Places places(world);
        const auto block = std::make_unique<Block>();
        std::vector<glm::vec3> at = places.at;
        float strongest = 0;
        for (const glm::vec3& push : pushAt(at, steps, source.moment, *block)) strongest = std::max(strongest, glm::length(push));
        if (!(strongest > 0)) return found;
        std::vector<std::vector<glm::vec3>> lines;
        for (const glm::vec3& place : at) lines.push_back({place});
        for (int step = 0; step < stepsOfLine; ++step) {
            progress.check();
            const std::vector<glm::vec3> pushes = pushAt(at, steps, source.moment, *block);
            for (std::size_t k = 0; k < at.size(); ++k) {
                at[k] += pushes[k] * (places.apart * lineLength / static_cast<float>(stepsOfLine) / strongest);
                lines[k].push_back(at[k]);
            }
        }
        for (std::vector<glm::vec3>& line : lines) {
            if (glm::distance(line.front(), line[1]) * stepsOfLine < weakest * places.apart) continue;
            addArrow(line, places.apart * 0.15f);
            found.lines.push_back(std::move(line));
        }
    } catch (const Error&) {  // the card that waits for it says so
    }
    return found;
}

}  // namespace gswarm
