#include "core/provide/definition.h"

#include "core/base/error.h"
#include "core/provide/file_hash.h"
#include "core/provide/store.h"
#include "core/resolve/references.h"
#include "core/resolve/resolve.h"

namespace gswarm {

void addDefinition(ContentHash& hash, const Track& track) {
    if (const auto& formula = track.formula) {
        hash.add(formula->text);
        for (const auto& [name, address] : formula->names) hash.add(name), hash.add(address);
    }
    if (const auto& link = track.link) {
        hash.add(link->to);
        for (const double v : {link->delay, link->fromLow, link->fromHigh, link->toLow, link->toHigh, link->step, double(link->clip)})
            hash.add(v);
        for (const CurvePoint& p : link->curve)
            for (const double v : {p.at, p.value, p.in, p.out}) hash.add(v);
    }
    if (!track.keyed()) return;
    hash.add(static_cast<std::uint64_t>(track.before) * 8 + static_cast<std::uint64_t>(track.after));
    for (const Key& key : *track.keys) {
        for (const double v : {key.frame, key.value, key.in, key.out}) hash.add(v);
        hash.add(static_cast<std::uint64_t>(key.ease));
    }
}

std::uint64_t definitionHash(const Scene& scene, const std::vector<ObjectId>& roots, const std::filesystem::path& projectFolder,
                             Store& store) {
    ContentHash hash;
    hash.add("definition");
    const Moment moment = momentAt(scene, 0);
    for (const double v : {moment.rate, moment.loopStart, moment.loopFrames}) hash.add(v);
    for (const ObjectId id : everythingBehind(scene, roots)) {
        const Object& object = scene.at(id);
        hash.add(id.bits);
        for (const Part& part : object.parts) {
            hash.add(resolvedWith(part, [](const Track& track) { return track.moves() ? 0 : track.value; }).hash);
            try {
                hash.add(filesHash(part, projectFolder, store.fileHashes()));
            } catch (const Error&) {
                hash.add("no file");
            }
            for (const Value& value : part.values) {
                const auto* numbers = std::get_if<Numbers>(&value);
                if (!numbers) continue;
                for (const Track& track : *numbers) addDefinition(hash, track);
            }
        }
        for (const auto& list : object.lists)
            for (const ObjectId child : list) hash.add(child.bits);
    }
    return hash.value();
}

}  // namespace gswarm
