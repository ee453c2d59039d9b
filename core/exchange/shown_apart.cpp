#include "core/exchange/shown_apart.h"

#include <algorithm>

#include "core/base/error.h"
#include "core/material/material_kind.h"

namespace gswarm {
namespace {

constexpr std::size_t mostParts = 4096;

bool shows(const Variant& variant) { return !variant.lamp && !variant.inner && shownBy(variant.look); }

/// A look that shows the same of its pictures everywhere. Of a mix its first is written, so it is what is meant.
Look showing(const Look& look, const ShownWhich& which) {
    if (look.mix) return showing(look.mix->first, which);
    Look made = look;
    if (!look.pictures) return made;
    SurfacePictures pictures = *look.pictures;
    pictures.which = which;
    made.pictures = std::make_shared<const SurfacePictures>(std::move(pictures));
    return made;
}

}  // namespace

std::shared_ptr<const Result> ShownApart::of(const std::shared_ptr<const Result>& result) {
    const auto concerned = [](const Variant& v) { return v.inner || shows(v); };
    if (std::none_of(result->variants.begin(), result->variants.end(), concerned)) return result;
    auto made = std::make_shared<Result>(*result);
    made->columns = std::make_shared<ResultColumns>(*result->columns);
    for (Variant& v : made->variants)
        if (v.inner) v.inner = of(v.inner);
    Known& known = known_[result->swarm];
    const auto& before = result->variants;
    std::size_t ofFrame = 0;
    while (ofFrame < before.size() && before[ofFrame].now == ofFrame) ++ofFrame;
    for (std::size_t i = 0; i < static_cast<std::size_t>(made->count); ++i) {
        std::uint16_t& variant = made->columns->variant[i];
        if (variant == notShown || !shows(before[variant])) continue;
        const ShownPictures& shown = *shownBy(before[variant].look);
        const ShownWhich which = whichOf(shown, lookedAt(*result, static_cast<std::uint32_t>(i)));
        if (!shown.tints.empty()) {
            std::uint32_t& colour = made->columns->colour[i];
            colour = encodedColour(linearColour(colour) * glm::vec4(tintOf(shown, which), 1));
        }
        const Part part{before[variant].now, which};
        const auto [entry, fresh] = known.number.try_emplace(part, static_cast<std::uint16_t>(known.parts.size()));
        if (fresh) known.parts.push_back(part);
        if (known.parts.size() > mostParts)
            throw Error(
                "More than 4 096 parts and moments of a picture are shown on instances, each of which is a material in this format; "
                "let them show fewer columns and rows, or the whole.");
        variant = static_cast<std::uint16_t>(ofFrame + entry->second);
    }
    // What is shown at other moments stands behind.
    for (std::size_t i = 0; i < static_cast<std::size_t>(made->count); ++i) {
        std::uint16_t& variant = made->columns->variant[i];
        const std::uint16_t old = result->columns->variant[i];
        if (old != notShown && old >= ofFrame && !shows(before[old])) variant = static_cast<std::uint16_t>(old + known.parts.size());
    }
    std::vector<Variant> variants(made->variants.begin(), made->variants.begin() + static_cast<std::ptrdiff_t>(ofFrame));
    for (std::size_t k = 0; k < known.parts.size(); ++k) {
        Variant one = made->variants[known.parts[k].variant];
        one.look = showing(one.look, known.parts[k].which);
        one.now = static_cast<std::uint16_t>(ofFrame + k);
        variants.push_back(std::move(one));
    }
    variants.insert(variants.end(), made->variants.begin() + static_cast<std::ptrdiff_t>(ofFrame), made->variants.end());
    made->variants = std::move(variants);
    return made;
}

DrawList ShownApart::placedAt(const ExportFrames& frames, double frame, Progress& progress) {
    PlanOptions options = frames.options;
    options.wanted.placements = true;
    std::vector<std::shared_ptr<const Result>> results;
    for (const ObjectId id : frames.scene.all(ObjectType::swarm))
        results.push_back(of(frames.evaluator.evaluate(frames.scene, id, frame, options, progress)));
    return drawListOf(results);
}

void ShownApart::meetAll(const ExportFrames& frames, double later, Progress& progress) {
    const auto materials = frames.scene.all(ObjectType::material);
    const auto own = [&](ObjectId id) { return frames.scene.at(id).part("material").kind == &shownMaterial; };
    if (std::none_of(materials.begin(), materials.end(), own)) return;
    for (int k = 0; k < frames.range.count(); ++k) placedAt(frames, frames.range.at(k) + later, progress);
}

}  // namespace gswarm
