#include <algorithm>
#include <atomic>

#include "core/base/error.h"
#include "core/prepare/carried.h"
#include "core/prepare/homes.h"
#include "core/prepare/instances.h"
#include "core/prepare/prepare.h"
#include "core/prepare/rail_plan.h"
#include "core/provide/camera_view.h"
#include "core/provide/media.h"
#include "core/provide/placing.h"
#include "core/provide/sounds.h"
#include "core/provide/store.h"
#include "core/resolve/resolve.h"
#include "core/scene/address.h"
#include "core/scene/rail_source.h"
#include "core/shape/homes.h"

namespace gswarm {
namespace {

/// For what can't be told by a hash: never the same twice.
std::uint64_t once() {
    static std::atomic<std::uint64_t> next{1};
    return next++;
}

const Object& present(const Scene& scene, ObjectId id, const std::string& what) {
    if (!id) throw Error("It has no " + what + " yet; choose one.");
    const Object* object = scene.find(id);
    if (!object) throw Error("Its " + what + " was deleted; choose another one.");
    return *object;
}

std::shared_ptr<const Homes> instancesOf(const Scene& scene, ObjectId other, double frame, const PlanOptions& options, Store& store,
                                         Progress& progress, ContentHash& hash) {
    present(scene, other, "swarm");
    const InstancesShown shown = instancesShown(scene, other, frame, options, store, progress);
    hash.add(shown.hash ? shown.hash : once());
    return shown.homes;
}

std::shared_ptr<const Homes> homesOf(const Scene& scene, ObjectId swarm, ObjectId formation, double frame, const PlanOptions& options,
                                     Store& store, Progress& progress, ContentHash& hash) {
    const Object& object = present(scene, formation, "formation");
    const ObjectId owner = scene.ownerOf(formation);
    PlanOptions whole;
    whole.projectFolder = options.projectFolder;
    const HomePlan plan = prepareHomes(scene, owner, object, frame, whole, store, progress);
    hash.add(plan.hash ? plan.hash : once());
    Homes homes = listOf(plan, progress);
    if (owner == swarm) return std::make_shared<const Homes>(std::move(homes));
    const WorldPose theirs = poseAt(scene, owner, frame, store), own = poseAt(scene, swarm, frame, store);
    for (const WorldPose& pose : {theirs, own}) addPose(hash, pose);
    for (std::size_t i = 0; i < homes.count(); ++i) {
        homes.setPlace(i, own.fromWorld(theirs.toWorld(homes.placeOf(i))));
        homes.setTurn(i, glm::conjugate(own.rotation) * (theirs.rotation * homes.turnOf(i)));
        homes.size[i] *= theirs.scale / own.scale;
    }
    return std::make_shared<const Homes>(std::move(homes));
}

StockTold stockOf(const Scene& scene, ObjectId swarm, double frame, const Shapes& shapes) {
    StockTold told;
    int first = 0;
    for (const ObjectId id : scene.at(swarm).list("stock")) {
        const auto resolved = resolve(scene, scene.at(id).part("entry"), frame);
        const auto& entry = resolved.as<StockEntry>();
        int count = 1;
        if (entry.pieces != PiecesOf::none)
            count =
                static_cast<int>(shapes.pieces(entry.shape, entry.pieces == PiecesOf::parts ? PieceMode::parts : PieceMode::faces)->size());
        told.entries.push_back({id, first, count});
        first += count;
    }
    return told;
}

}  // namespace

int namedColumn(const Scene& scene, ObjectId swarm, ObjectId number) {
    const auto& numbers = scene.at(swarm).list("namedValues");
    auto found = std::find(numbers.begin(), numbers.end(), number);
    const Object* other = scene.find(number);
    if (found == numbers.end() && other)
        found = std::find_if(numbers.begin(), numbers.end(), [&](ObjectId own) { return scene.at(own).name == other->name; });
    return found == numbers.end() ? -1 : static_cast<int>(found - numbers.begin());
}

RailSource railSourceOf(const Scene& scene, ObjectId swarm, double frame, const PlanOptions& options, Store& store, Progress& progress) {
    RailSource source;
    source.moment = momentAt(scene, frame);
    source.swarm = poseAt(scene, swarm, frame, store);
    source.progress = &progress;
    const auto hash = source.hash = std::make_shared<ContentHash>();
    const auto shapes = std::make_shared<Shapes>(shapesAt(scene, frame, options, store, progress));
    source.shape = [&scene, shapes, hash](ObjectId id) {
        present(scene, id, "shape");
        auto made = shapes->get(id);
        hash->add(made->hash);
        return made;
    };
    source.instances = [&scene, &store, &progress, frame, options, hash](ObjectId other) {
        return instancesOf(scene, other, frame, options, store, progress, *hash);
    };
    source.shown = [&scene, &store, &progress, frame, options, hash](ObjectId other) {
        present(scene, other, "swarm");
        const ShownShapes shown = shapesShown(scene, other, frame, options, store, progress);
        hash->add(shown.hash ? shown.hash : once());
        return shown;
    };
    source.earliest = source.latest = frame;
    source.media = [&scene, &store, folder = options.projectFolder, hash](ObjectId media, double at) {
        AskedMedia asked = askMedia(scene, present(scene, media, "picture").id, at, folder, store);
        hash->add(asked.key);
        return asked;
    };
    source.sound = [&scene, &store, frame, folder = options.projectFolder, hash](ObjectId sound) {
        AskedSound asked = askSound(scene, present(scene, sound, "sound").id, frame, folder, store);
        hash->add(asked.key);
        hash->add(double(asked.laid.start));
        return asked;
    };
    source.view = [&scene, &store, frame, hash](ObjectId wanted) {
        const ObjectId camera = wanted ? present(scene, wanted, "camera").id : cameraOn(scene, frame);
        if (!camera) throw Error("There is no camera to look through; add one.");
        const glm::mat4 clip = clipMatrix(cameraAt(scene, camera, frame, store), static_cast<float>(pictureAspect(scene)));
        for (int c = 0; c < 4; ++c)
            for (int r = 0; r < 4; ++r) hash->add(double(clip[c][r]));
        return clip;
    };
    source.homes = [&scene, &store, &progress, swarm, frame, options, hash](ObjectId formation) {
        return homesOf(scene, swarm, formation, frame, options, store, progress, *hash);
    };
    source.pose = [&scene, &store, frame, hash](ObjectId id) {
        present(scene, id, "thing to point at");
        const WorldPose pose = poseAt(scene, id, frame, store);
        for (const float v : {pose.position.x, pose.position.y, pose.position.z}) hash->add(double(v));
        return pose;
    };
    source.column = [&scene, swarm](ObjectId number) {
        const int column = namedColumn(scene, swarm, present(scene, number, "named value").id);
        if (column < 0) throw Error("Its named value belongs to another swarm; choose one of this swarm.");
        return column;
    };
    source.columnAt = [&scene, swarm](const std::string& address) -> std::optional<int> {
        const int column = namedColumn(scene, swarm, parseObjectId(address.substr(0, address.find('/'))));
        return column < 0 ? std::nullopt : std::optional(column);
    };
    source.stock = [&scene, swarm, frame, shapes] { return stockOf(scene, swarm, frame, *shapes); };
    source.number = [&scene, frame](const std::string& text) {
        if (const auto value = valueAtAddress(scene, text, frame)) return *value;
        throw Error("Its formula names a setting of something that was deleted; write another one.");
    };
    source.kept = [&store](std::uint64_t key, const std::function<std::shared_ptr<const void>()>& make,
                           const std::function<std::size_t(const void*)>& bytesOf) { return store.keep(key, make, bytesOf); };
    return source;
}

}  // namespace gswarm
