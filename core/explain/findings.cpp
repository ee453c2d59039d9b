#include "core/explain/findings.h"

#include <algorithm>

#include "core/base/error.h"
#include "core/base/outside_file.h"
#include "core/edit/edit.h"
#include "core/light/light_kind.h"
#include "core/prepare/prepare.h"
#include "core/provide/picture_files.h"
#include "core/provide/store.h"
#include "core/resolve/resolve.h"

namespace gswarm {
namespace {

/// What one object says of itself: its files, what it refers to, and numbers that have no value.
void addOwn(const Scene& scene, const Object& object, double frame, const std::filesystem::path& folder, std::vector<Finding>& out) {
    const std::string who = classOf(object.id.type()).label + " “" + object.name + "”";
    for (const Part& part : object.parts)
        for (std::size_t i = 0; i < part.values.size(); ++i) {
            const Parameter& p = part.kind->parameters[i];
            if (!applies(p, part)) continue;
            if (const auto* to = std::get_if<ObjectId>(&part.values[i]); to && *to && !scene.find(*to))
                out.push_back({object.id, who + ": “" + p.label + "” refers to something that is not in the project; choose another."});
            if (const auto* numbers = std::get_if<Numbers>(&part.values[i]))
                for (const Track& track : *numbers)
                    if (const std::string wrong = troubleOf(scene, track, frame); !wrong.empty())
                        out.push_back({object.id, who + ", “" + p.label + "”: " + wrong});
            const auto* typed = std::get_if<std::string>(&part.values[i]);
            if (p.type != ParameterType::file || !typed || typed->empty()) continue;
            try {
                pathInProject(*typed, folder);
            } catch (const Error& error) {
                out.push_back({object.id, who + ": " + error.what()});
            }
        }
}

/// Pictures that can't be read, though they are there.
void addPictureFindings(const Scene& scene, double frame, const std::filesystem::path& folder, Store& store, std::vector<Finding>& out) {
    const auto told = [&](ObjectId id) {
        return std::any_of(out.begin(), out.end(), [&](const Finding& finding) { return finding.object == id; });
    };
    for (const ObjectId id : scene.all(ObjectType::light)) {
        const auto& kind = static_cast<const LightKind&>(*scene.at(id).part("light").kind);
        if (!kind.far || told(id)) continue;
        FarLight light;
        kind.far(resolve(scene, scene.at(id).part("light"), frame).data.get(), light);
        for (const Surroundings& one : light.surroundings) {
            try {
                panoramaOf(one, folder, store);
            } catch (const Error& error) {
                out.push_back({id, "“" + scene.at(id).name + "” gives no light: " + error.what()});
            }
        }
    }
    for (const ObjectId id : scene.all(ObjectType::material)) {
        const Part& part = scene.at(id).part("material");
        for (std::size_t i = 0; i < part.kind->parameters.size() && !told(id); ++i) {
            const auto* typed = std::get_if<std::string>(&part.values[i]);
            if (part.kind->parameters[i].type != ParameterType::file || !typed || typed->empty()) continue;
            try {
                pictureOf(*typed, folder, store);
            } catch (const Error& error) {
                out.push_back({id, "“" + scene.at(id).name + "” does without a picture: " + error.what()});
            }
        }
    }
    const After after = resolve(scene, scene.project().part("after"), frame).as<After>();
    const ObjectId project = scene.project().id;
    if (after.background != Background::picture || after.backgroundPicture.empty() || told(project)) return;
    try {
        pictureOf(after.backgroundPicture, folder, store);
    } catch (const Error& error) {
        out.push_back({project, std::string("The background is a colour: ") + error.what()});
    }
}

}  // namespace

std::vector<Finding> findingsIn(const Scene& scene, double frame, const PlanOptions& options, Store& store, Progress& progress) {
    std::vector<Finding> out;
    for (const auto& [id, object] : scene.objects) addOwn(scene, *object, frame, options.projectFolder, out);
    addPictureFindings(scene, frame, options.projectFolder, store, out);
    for (const ObjectId swarm : scene.all(ObjectType::swarm)) {
        try {
            const Plan plan = prepare(scene, swarm, frame, options, store, progress);
            for (const Card& card : plan.cards)
                if (!card.waits.empty())
                    out.push_back(
                        {card.entry, "“" + scene.at(swarm).name + "”, " + nameOfCard(scene, card.entry) + " waits: " + card.waits});
        } catch (const Error& error) {
            const std::string said = error.what(), name = scene.at(swarm).name;
            out.push_back({swarm, said.find(name) == std::string::npos ? "Swarm “" + name + "”: " + said : said});
        }
    }
    return out;
}

}  // namespace gswarm
