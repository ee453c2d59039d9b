#include "core/prepare/looks.h"

#include <algorithm>

#include "core/base/error.h"
#include "core/base/outside_file.h"
#include "core/prepare/rail_plan.h"
#include "core/prepare/shown_sheets.h"
#include "core/provide/picture_files.h"
#include "core/provide/store.h"
#include "core/resolve/resolve.h"

namespace gswarm {
namespace {

Look plainOf(double r, double g, double b, float roughness) {
    Material m;
    m.colour = glm::vec4(linearFromSrgb(r), linearFromSrgb(g), linearFromSrgb(b), 1);
    m.roughness = roughness;
    return {m, nullptr, nullptr};
}

}  // namespace

const Look& plainClay() {
    static const Look look = plainOf(0.78, 0.74, 0.66, 0.5f);
    return look;
}

const Look& plainStone() {
    static const Look look = plainOf(0.42, 0.39, 0.35, 0.8f);
    return look;
}

int Looks::column(ObjectId namedValue) {
    const int at = swarm_ && scene_.find(namedValue) ? namedColumn(scene_, swarm_, namedValue) : -1;
    return at < 0 ? -1 : columnOf({at, {}});
}

std::string Looks::name(ObjectId namedValue) {
    const Object* object = scene_.find(namedValue);
    if (object) hash_.add(object->name);
    return object ? object->name : "";
}

int Looks::weight(ObjectId gesture) {
    if (!swarm_) return -1;
    for (const ObjectId entry : scene_.at(swarm_).list("rail"))
        if (referenceOf(scene_.at(entry).part("entry"), "gesture") == gesture && scene_.find(gesture)) return columnOf({-1, entry});
    return -1;
}

int Looks::columnOf(const MixColumn& wanted) {
    const auto known = std::find(columns_.begin(), columns_.end(), wanted);
    if (known != columns_.end()) return static_cast<int>(known - columns_.begin());
    if (columns_.size() == mostMixColumns) {
        note_ =
            "Only " + std::to_string(mostMixColumns) + " named values and weights mix materials of one swarm; the others mix nothing in.";
        return -1;
    }
    columns_.push_back(wanted);
    return static_cast<int>(columns_.size()) - 1;
}

std::shared_ptr<const FloatPicture> Looks::picture(ObjectId material, const std::string& file, PictureAs as) {
    if (file.empty()) return nullptr;
    try {
        auto read = pictureOf(file, folder_, store_, as);
        hash_.add(store_.fileHashes().of(pathInProject(file, folder_)).hash);
        return read;
    } catch (const Error& error) {
        note_ = "“" + scene_.at(material).name + "” does without a picture: " + error.what();
        return nullptr;
    }
}

std::shared_ptr<const ShownPictures> Looks::shown(ObjectId material, const ShownAsk& ask) {
    if (!scene_.find(ask.media)) return nullptr;
    try {
        return shownOnInstances(ask, scene_, frame_, folder_, homes_, store_, hash_, note_);
    } catch (const Error& error) {
        note_ = "“" + scene_.at(material).name + "” does without its picture: " + error.what();
        return nullptr;
    }
}

Look Looks::of(ObjectId material, const Look& standard, int depth) {
    const Object* object = scene_.find(material);
    if (!object || material.type() != ObjectType::material || depth > deepestMix) return standard;
    const auto [entry, fresh] = made_.try_emplace({material, depth}, standard);
    if (!fresh) return entry->second;
    const ResolvedPart own = resolve(scene_, object->part("material"), frame_), shaped = resolve(scene_, object->part("shaped"), frame_);
    hash_.add(own.hash);
    hash_.add(shaped.hash);
    Response response = shaped.as<Response>();
    response.table = tableOf(response.points);
    const LookSource source{[&](ObjectId other) { return of(other, plainClay(), depth + 1); },
                            [&](ObjectId value) { return column(value); },
                            [&](ObjectId value) { return name(value); },
                            [&](ObjectId gesture) { return weight(gesture); },
                            [&](const std::string& file, PictureAs as) { return picture(material, file, as); },
                            [&](const ShownAsk& ask) { return shown(material, ask); }};
    const Look made = static_cast<const MaterialKind&>(*own.kind).look(own.data.get(), response, source);
    return made_[{material, depth}] = made;
}

}  // namespace gswarm
