#include "core/flow/tree.h"

#include <map>
#include <optional>

#include "core/base/content_hash.h"
#include "core/base/error.h"

namespace gswarm {
namespace {

constexpr std::size_t mostStandingShapes = 2'000'000;

using Rows = std::vector<std::shared_ptr<const std::vector<std::uint32_t>>>;

/// The way down from the outermost swarm.
struct Way {
    glm::mat4 stand;
    glm::vec4 tint{1};
    InstanceOf within;
    std::uint64_t path = 0;
};

class Walk {
  public:
    explicit Walk(const std::function<void(const Leaves&)>& take) : take_(take) {}

    void down(const std::shared_ptr<const Result>& swarm, const Way& way) {
        const Rows& rows = rowsOf(*swarm);
        for (std::size_t v = 0; v < rows.size(); ++v) {
            if (rows[v]->empty()) continue;
            const Variant& variant = swarm->variants[v];
            for (std::uint32_t copy = 0; copy < swarm->copies.size(); ++copy) {
                const glm::mat4 pose = copy == 0 ? way.stand : way.stand * swarm->copies[copy];
                if (!variant.inner) {
                    take_({swarm, &variant, nullptr, rows[v], pose, way.tint, copy, way.within, way.path});
                    continue;
                }
                const auto ids = idsOfRows(swarm->home, *rows[v]);
                for (std::size_t k = 0; k < ids.size(); ++k) inside(swarm, variant, (*rows[v])[k], ids[k], copy, pose, way);
            }
        }
        if (!way.within.swarm) return;
        for (const Backdrop& backdrop : swarm->backdrops) {
            if (!backdrop.alone || backdrop.dimmed || backdrop.meshes->mesh().triangles.empty()) continue;
            const auto copies = static_cast<std::uint32_t>(backdrop.copied ? swarm->copies.size() : 1);
            for (std::uint32_t copy = 0; copy < copies; ++copy)
                take_({swarm, nullptr, &backdrop, nullptr, copy == 0 ? way.stand : way.stand * swarm->copies[copy], way.tint, copy,
                       way.within, way.path});
        }
    }

  private:
    void inside(const std::shared_ptr<const Result>& swarm, const Variant& variant, std::uint32_t row, std::uint64_t id, std::uint32_t copy,
                const glm::mat4& pose, const Way& way) {
        ContentHash path;
        path.add(way.path);
        path.add(id);
        path.add(std::uint64_t{copy});
        down(variant.inner, {pose * matrixOf(*swarm, row), way.tint * linearColour(swarm->columns->colour[row]),
                             way.within.swarm ? way.within : InstanceOf{swarm, row, copy}, path.value()});
    }

    const Rows& rowsOf(const Result& swarm) {
        const auto [at, isNew] = rows_.try_emplace(&swarm);
        if (isNew)
            for (auto& rows : instancesByVariant(swarm))
                at->second.push_back(std::make_shared<const std::vector<std::uint32_t>>(std::move(rows)));
        return at->second;
    }

    const std::function<void(const Leaves&)>& take_;
    std::map<const Result*, Rows> rows_;
};

/// `outer` is the row of the outermost swarm's instance; none where they are its own.
void addShapes(const Result& swarm, const glm::mat4& stand, const glm::vec4& tint, std::optional<std::uint32_t> outer,
               StandingShapes& out) {
    for (const glm::mat4& copy : swarm.copies) {
        const glm::mat4 pose = stand * copy;
        for (std::uint32_t row = 0; row < static_cast<std::uint32_t>(swarm.count); ++row) {
            const std::uint16_t which = swarm.columns->variant[row];
            if (which == notShown) continue;
            const Variant& variant = swarm.variants[which];
            if (variant.lamp) continue;
            const glm::mat4 at = pose * matrixOf(swarm, row);
            const glm::vec4 colour = tint * linearColour(swarm.columns->colour[row]);
            if (variant.inner)
                addShapes(*variant.inner, at, colour, outer.value_or(row), out);
            else
                out.push_back({variant.meshes, at, colour, outer.value_or(row)});
        }
    }
}

}  // namespace

void eachLeaves(const std::shared_ptr<const Result>& swarm, const glm::mat4& stand, const std::function<void(const Leaves&)>& take) {
    Walk(take).down(swarm, {stand, glm::vec4(1), {}, 0});
}

StandingShapes standingShapes(const Result& swarm, const glm::mat4& stand) {
    if (swarm.leaves > mostStandingShapes)
        throw Error("It shows " + std::to_string(swarm.leaves) + " shapes, more than the limit of " + std::to_string(mostStandingShapes) +
                    " that can be used one by one; repeat fewer.");
    StandingShapes all;
    addShapes(swarm, stand, glm::vec4(1), {}, all);
    return all;
}

void countLeaves(Result& result) {
    std::uint64_t own = 0, groups = 0;
    for (std::size_t row = 0; row < static_cast<std::size_t>(result.count); ++row) {
        const std::uint16_t which = result.columns->variant[row];
        if (which == notShown) continue;
        const auto& inner = result.variants[which].inner;
        own += inner ? inner->leaves : 1;
        groups += inner ? inner->groups : 0;
    }
    result.leaves = own * result.copies.size();
    result.groups = (groups + result.variants.size()) * result.copies.size();
}

}  // namespace gswarm
