#include "core/prepare/homes.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <numeric>

#include "core/base/chance.h"
#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/base/precise.h"
#include "core/base/text.h"
#include "core/flow/flow.h"
#include "core/flow/plan.h"
#include "core/prepare/carried.h"
#include "core/prepare/instances.h"
#include "core/prepare/prepare.h"
#include "core/prepare/rail_plan.h"
#include "core/prepare/zone_weights.h"
#include "core/provide/placing.h"
#include "core/provide/store.h"
#include "core/resolve/resolve.h"
#include "core/scene/object_kinds.h"
#include "core/shape/homes.h"
#include "core/shape/shape_kind.h"
#include "core/symmetry/copies.h"

namespace gswarm {
namespace {

/// Where the shown instances of another swarm are, as this swarm sees them.
Homes asSeenFrom(const WorldPose& own, Homes homes) {
    for (std::size_t i = 0; i < homes.count(); ++i) {
        homes.setPlace(i, own.fromWorld(homes.placeOf(i)));
        homes.setTurn(i, glm::conjugate(own.rotation) * homes.turnOf(i));
        homes.size[i] /= own.scale;
    }
    return homes;
}

StandingShapes shapesAsSeenFrom(const WorldPose& own, StandingShapes shapes) {
    const glm::mat4 seen = glm::inverse(matrixOf(own));
    for (StandingShape& shape : shapes) shape.stand = seen * shape.stand;
    return shapes;
}

/// Everything a formation is made with, at one frame.
struct Making {
    const Scene& scene;
    ObjectId swarm;
    const Object& formation;
    double frame;
    const PlanOptions& options;
    Store& store;
    Progress& progress;
    WorldPose pose = poseAt(scene, swarm, frame, store);
    Shapes shapes = shapesAt(scene, frame, options, store, progress);
    Shapes restShapes = shapesAt(scene, numberAt(scene, scene.project().part("settings"), "firstFrame", 0), options, store, progress);
    ResolvedPart rule = resolve(scene, formation.part("formation"), frame);
    ResolvedPart standingPart = resolve(scene, formation.part("standing"), frame);
    ResolvedPart orderPart = resolve(scene, formation.part("order"), frame);

    const FormationKind& kind() const { return static_cast<const FormationKind&>(*rule.kind); }
    const Standing& standing() const { return standingPart.as<Standing>(); }
    const Order& order() const { return orderPart.as<Order>(); }
    const Object* densityZone() const {
        const Object* zone = scene.find(standing().density);
        return zone && switchAt(scene, zone->part("place"), "on", frame) ? zone : nullptr;
    }

    /// What the density zone weighs, null without one; made once.
    std::shared_ptr<ZoneWeights> density() const {
        const Object* zone = densityZone();
        if (!zone || density_) return density_;
        const auto weights =
            std::make_shared<ZoneWeights>(scene, *zone, pose, railSourceOf(scene, swarm, frame, options, store, progress), store);
        if (weights->onlyAtInstances())
            throw Error("The density zone “" + zone->name +
                        "” chooses or reads instances, which are not there yet; choose a zone that goes by places.");
        return density_ = weights;
    }

    FormationSource source() {
        FormationSource source;
        source.projectFolder = options.projectFolder;
        source.shape = [this](ObjectId id) { return shapes.get(id); };
        source.restShape = [this](ObjectId id) { return restShapes.get(id); };
        source.swarm = [this](ObjectId id) { return asSeenFrom(pose, *instances(id).homes); };
        source.shown = [this](ObjectId id) {
            return shapesAsSeenFrom(pose, *shapesShown(scene, id, frame, options, store, progress).shapes);
        };
        source.kept = [this](std::uint64_t key, const std::function<SurfacePoints()>& make) {
            const std::function<std::shared_ptr<const SurfacePoints>()> made = [&] {
                return std::make_shared<const SurfacePoints>(make());
            };
            return store.get<SurfacePoints>(key, made, [](const SurfacePoints& p) { return p.size() * sizeof(SurfacePoint); });
        };
        if (const auto weights = density())
            source.density = [weights](std::span<const glm::vec3> places, float* out) { (*weights)(places, out); };
        source.progress = &progress;
        return source;
    }

    InstancesShown instances(ObjectId swarm) const { return instancesShown(scene, swarm, frame, options, store, progress); }

    /// Hash of all that the raw homes depend on; 0 where that can't be told.
    std::uint64_t rawHash(bool withDensity) const {
        ContentHash hash;
        hash.add("homes");
        hash.add(rule.hash);
        hash.add(filesHash(formation.part("formation"), options.projectFolder, store.fileHashes()));
        for (const Value& value : formation.part("formation").values)
            if (const auto* other = std::get_if<ObjectId>(&value); other && *other) {
                if (other->type() == ObjectType::swarm) {
                    const std::uint64_t shown = instances(*other).hash;
                    if (shown == 0) return 0;
                    hash.add(shown);
                    addPose(hash, pose);
                    continue;
                }
                if (other->type() != ObjectType::shape || !scene.find(*other)) continue;
                hash.add(shapes.get(*other)->hash);
                hash.add(restShapes.get(*other)->hash);
            }
        if (withDensity) addDensity(hash);
        return hash.value();
    }
    void addDensity(ContentHash& hash) const {
        if (const auto weights = density()) hash.add(weights->hash());
    }
    mutable std::shared_ptr<ZoneWeights> density_ = nullptr;
};

void append(Homes& homes, const HomeColumns& columns, int first, int count) {
    eachHomeColumn(homes, columns, [&](auto& to, const auto& from) { to.insert(to.end(), from + first, from + first + count); });
}

Homes computedHomes(const FormationKind& kind, const void* data, int count, Progress& progress) {
    Homes homes;
    const auto columns = std::make_unique<HomeColumns>();
    for (int first = 0; first < count; first += blockSize) {
        progress.check();
        const HomeRange range{first, std::min(blockSize, count - first), count};
        kind.place(data, range, *columns);
        append(homes, *columns, 0, range.count);
    }
    return homes;
}

/// Which homes stay, and in which order: rows of the raw homes.
std::vector<std::uint32_t> rowsOf(Making& m, const Homes& homes) {
    std::vector<std::uint32_t> rows(homes.count());
    std::iota(rows.begin(), rows.end(), 0u);
    if (m.densityZone() && !m.kind().drawsByDensity) {
        std::vector<float> weights(homes.count());
        m.source().density(placesOf(homes), weights.data());
        const auto seed = static_cast<std::uint32_t>(m.standing().seed);
        std::erase_if(rows, [&](std::uint32_t r) { return chance(seed, homes.idOf(r), 7) >= weights[r]; });
    }
    const Order& order = m.order();
    std::vector<double> keys(order.by == OrderBy::made ? 0 : homes.count());
    std::unique_ptr<MeasuredCurve> curve;
    if (order.by == OrderBy::curve) {
        if (!order.curve) throw Error("Choose the curve along which instances are numbered.");
        const auto shape = m.shapes.get(order.curve);
        if (shape->curves.empty()) throw Error("The shape along which instances are numbered has no curve; choose another one.");
        curve = std::make_unique<MeasuredCurve>(shape->curves.front());
    }
    for (std::size_t r = 0; r < keys.size(); ++r) {
        const glm::vec3 p = homes.placeOf(r);
        switch (order.by) {
            case OrderBy::axis:
                keys[r] = p[static_cast<int>(order.axis)];
                break;
            case OrderBy::distance:
                keys[r] = glm::dot(p - order.place, p - order.place);
                break;
            case OrderBy::curve:
                keys[r] = curve->nearestTo(p).distance;
                break;
            default:
                keys[r] = chance(static_cast<std::uint32_t>(order.seed), homes.idOf(r), 8);
        }
    }
    if (!keys.empty())
        std::sort(rows.begin(), rows.end(),
                  [&](std::uint32_t a, std::uint32_t b) { return keys[a] != keys[b] ? keys[a] < keys[b] : homes.idOf(a) < homes.idOf(b); });
    if (order.reversed) std::reverse(rows.begin(), rows.end());
    return rows;
}

glm::quat standing(const Standing& s, const glm::quat& formed, std::uint64_t id) {
    glm::quat turned = formed;
    if (s.turned == StandingTurn::upright) {
        const glm::vec3 heading = formed * glm::vec3(0, 0, 1);
        turned = standingOn({0, 1, 0}, {heading.x, 0, heading.z});
    }
    const double angle = s.turn + s.randomTurn * (2.0 * chance(static_cast<std::uint32_t>(s.seed), id, 6) - 1);
    if (angle == 0) return turned;
    const auto half = precise::sineCosine(angle / 2);
    return turned * glm::quat(static_cast<float>(half.cosine), 0, static_cast<float>(half.sine), 0);
}

/// The homes that stay, in their order, standing as they are told to.
Homes arranged(Making& m, const Homes& homes) {
    const auto rows = rowsOf(m, homes);
    if (rows.empty()) throw Error("The density zone leaves no instance; make it larger or take it out.");
    const std::size_t n = rows.size();
    Homes out;
    out.resize(n);
    if (!homes.element.empty()) out.element.resize(n);
    const Standing& s = m.standing();
    const bool turns = s.turned == StandingTurn::upright || s.turn != 0 || s.randomTurn != 0;
    out.note = homes.note;
    out.anew = homes.anew;
    for (const HomeExtra& extra : homes.extras) {
        out.extras.push_back({extra.what, extra.name, extra.value, extra.told, std::vector<float>(n)});
        for (std::size_t i = 0; i < n; ++i) out.extras.back().values[i] = extra.values[rows[i]];
    }
    forRanges(n, 4096, [&](std::size_t begin, std::size_t end) {
        eachHomeColumn(out, homes, [&](auto& to, const auto& from) {
            for (std::size_t i = begin; i < end; ++i) to[i] = from[rows[i]];
        });
        if (!homes.element.empty())
            for (std::size_t i = begin; i < end; ++i) out.element[i] = homes.element[rows[i]];
        if (s.offset == 0 && !turns) return;
        for (std::size_t i = begin; i < end; ++i) {
            const glm::quat formed = out.turnOf(i);
            if (s.offset != 0) out.setPlace(i, out.placeOf(i) + formed * glm::vec3(0, s.offset, 0));
            if (turns) out.setTurn(i, standing(s, formed, out.idOf(i)));
        }
    });
    out.numberAnew();
    return out;
}

/// True if homes are kept as the formation makes them: all of them, in its order, standing as they are formed.
bool asFormed(const Making& m) {
    const Standing& s = m.standing();
    return s.offset == 0 && s.turned == StandingTurn::formed && s.turn == 0 && s.randomTurn == 0 && m.order().by == OrderBy::made &&
           !m.order().reversed && (!m.densityZone() || m.kind().drawsByDensity);
}

/// True if the homes leave the block as the formation computes them.
bool asComputed(const Making& m) { return !m.kind().needsMaking(m.rule.data.get()) && asFormed(m); }

std::shared_ptr<const Bounds> boundsOfHomes(const HomePlan& plan, std::uint64_t hash, Store& store, Progress& progress) {
    ContentHash key;
    key.add("home bounds");
    key.add(hash);
    const std::function<std::shared_ptr<const Bounds>()> make = [&] {
        auto bounds = std::make_shared<Bounds>();
        const auto homes = std::make_unique<HomeColumns>();
        for (int first = 0; first < plan.count; first += blockSize) {
            progress.check();
            const HomeRange range{first, std::min(blockSize, plan.count - first), plan.count};
            plan.place(range, *homes);
            for (int i = 0; i < range.count; ++i) bounds->add({homes->position.x[i], homes->position.y[i], homes->position.z[i]});
        }
        return std::shared_ptr<const Bounds>(std::move(bounds));
    };
    return hash ? store.get<Bounds>(key.value(), make, [](const Bounds&) { return sizeof(Bounds); }) : make();
}

/// What a kind refuses is told with the swarm's name.
template <class Work>
auto inSwarm(const Making& m, Work work) {
    try {
        return work();
    } catch (const Error& error) {
        throw Error("“" + m.scene.at(m.swarm).name + "”: " + error.what());
    }
}

/// Throws Error if there would be more instances than may be.
double checkedCount(Making& m) {
    const double count = inSwarm(m, [&] { return m.kind().count(m.rule.data.get(), m.source()); });
    if (count > mostInstances)
        throw Error("“" + m.scene.at(m.swarm).name + "” would have " + (m.kind().countIsGuess ? "about " : "") + grouped(count) +
                    " instances, more than the limit of " + grouped(mostInstances) + "; lower its counts or widen its spacing.");
    return count;
}

std::shared_ptr<const Homes> storedHomes(Making& m, int computedCount, std::uint64_t hash) {
    const std::uint64_t rawHash = m.kind().needsMaking(m.rule.data.get()) ? m.rawHash(m.kind().drawsByDensity) : 0;
    const std::function<std::shared_ptr<const Homes>()> makeRaw = [&] {
        m.progress.say(m.scene.at(m.swarm).name + ": making " + m.kind().label);
        m.progress.report(0);
        if (m.kind().needsMaking(m.rule.data.get())) checkedCount(m);
        auto homes = std::make_shared<Homes>(m.kind().needsMaking(m.rule.data.get())
                                                 ? inSwarm(m, [&] { return m.kind().make(m.rule.data.get(), m.source()); })
                                                 : computedHomes(m.kind(), m.rule.data.get(), computedCount, m.progress));
        if (static_cast<double>(homes->count()) > mostInstances)
            throw Error("“" + m.scene.at(m.swarm).name + "” makes " + grouped(static_cast<double>(homes->count())) +
                        " instances, more than the limit of " + grouped(mostInstances) + "; lower its counts or widen its spacing.");
        homes->numberAnew();
        return std::shared_ptr<const Homes>(std::move(homes));
    };
    const auto raw = [&] { return rawHash ? m.store.get<Homes>(rawHash, makeRaw, [](const Homes& h) { return h.bytes(); }) : makeRaw(); };
    if (asFormed(m)) {
        auto homes = raw();
        if (homes->count() > 0) return homes;
    }
    const std::function<std::shared_ptr<const Homes>()> make = [&] {
        return inSwarm(m, [&] { return std::make_shared<const Homes>(arranged(m, *raw())); });
    };
    return hash ? m.store.get<Homes>(hash, make, [](const Homes& h) { return h.bytes(); }) : make();
}

}  // namespace

Homes listOf(const HomePlan& plan, Progress& progress) {
    Homes homes;
    const auto columns = std::make_unique<HomeColumns>();
    for (int first = 0; first < plan.count; first += blockSize) {
        progress.check();
        const HomeRange range{first, std::min(blockSize, plan.count - first), plan.count};
        plan.place(range, *columns);
        append(homes, *columns, 0, range.count);
    }
    return homes;
}

CountTold countOf(const Scene& scene, ObjectId swarm, const Object& formation, double frame, const PlanOptions& options, Store& store,
                  Progress& progress) {
    Making m{scene, swarm, formation, frame, options, store, progress};
    const bool thinned = m.densityZone() && !m.kind().drawsByDensity;
    return {m.kind().count(m.rule.data.get(), m.source()), m.kind().countIsGuess || thinned};
}

namespace {

/// Keeps one of every so many homes, at a place of its own within each run of that many, so that a grid is not thinned
/// out to stripes.
void rehearse(HomePlan& plan, int share, Store& store, Progress& progress) {
    ContentHash key;
    key.add("rehearsal");
    key.add(plan.hash);
    key.add(static_cast<std::uint64_t>(share));
    const std::function<std::shared_ptr<const Homes>()> make = [&] {
        auto kept = std::make_shared<Homes>();
        if (plan.stored)
            for (const HomeExtra& extra : plan.stored->extras)
                kept->extras.push_back({extra.what, extra.name, extra.value, extra.told, {}});
        const auto columns = std::make_unique<HomeColumns>();
        int first = 0, held = 0;
        for (int run = 0; run * share < plan.count; ++run) {
            if (run % 4096 == 0) progress.check();
            const int length = std::min(share, plan.count - run * share);
            const int row = run * share + static_cast<int>(scrambled(static_cast<std::uint32_t>(run)) % static_cast<std::uint32_t>(length));
            if (row >= first + held) {
                first = row / blockSize * blockSize;
                held = std::min(blockSize, plan.count - first);
                plan.place({first, held, plan.count}, *columns);
            }
            const int i = row - first;
            append(*kept, *columns, i, 1);
            kept->element.push_back(plan.elementOf(row));
            kept->number.push_back(static_cast<std::uint32_t>(row));
            if (plan.anew()) {
                kept->order.push_back(plan.stored->order[static_cast<std::size_t>(row)]);
                kept->stretch.push_back(plan.stored->stretch[static_cast<std::size_t>(row)]);
            }
            for (std::size_t k = 0; k < kept->extras.size(); ++k)
                kept->extras[k].values.push_back(plan.stored->extras[k].values[static_cast<std::size_t>(row)]);
        }
        return std::shared_ptr<const Homes>(std::move(kept));
    };
    plan.stored = plan.hash ? store.get<Homes>(key.value(), make, [](const Homes& h) { return h.bytes(); }) : make();
    plan.count = static_cast<int>(plan.stored->count());
    if (plan.hash) plan.hash = key.value();
}

}  // namespace

HomePlan prepareHomes(const Scene& scene, ObjectId swarm, const Object& formation, double frame, const PlanOptions& options, Store& store,
                      Progress& progress) {
    Making m{scene, swarm, formation, frame, options, store, progress};
    const void* data = m.rule.data.get();
    const bool made = m.kind().needsMaking(data);
    // What stands on shapes may be slow even to count: that is done only where its homes are not there yet.
    const double count = made ? 0 : checkedCount(m);
    HomePlan plan;
    plan.kind = &m.kind();
    plan.data = m.rule.data;
    if (m.kind().spacing) plan.spacing = m.kind().spacing(data);
    if (m.standing().density && !m.densityZone()) plan.note = "Its density zone is off or was deleted; it is not thinned out.";
    std::uint64_t hash = made ? m.rawHash(false) : m.rule.hash;
    if (asComputed(m)) {
        plan.count = static_cast<int>(count);
    } else {
        ContentHash key;
        key.add("arranged");
        key.add(hash);
        key.add(m.standingPart.hash);
        key.add(m.orderPart.hash);
        m.addDensity(key);
        if (m.order().by == OrderBy::curve && scene.find(m.order().curve)) key.add(m.shapes.get(m.order().curve)->hash);
        if (hash) hash = key.value();
        plan.stored = storedHomes(m, static_cast<int>(count), hash);
        plan.count = static_cast<int>(plan.stored->count());
        if (!plan.stored->note.empty()) plan.note += (plan.note.empty() ? "" : " ") + plan.stored->note;
    }
    plan.bounds = *boundsOfHomes(plan, hash, store, progress);
    plan.total = plan.count;
    plan.hash = hash;
    if (options.rehearsal > 1) rehearse(plan, options.rehearsal, store, progress);
    return plan;
}

}  // namespace gswarm
