#include "core/prepare/prepare.h"

#include <tbb/enumerable_thread_specific.h>

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <limits>

#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/base/text.h"
#include "core/flow/result.h"
#include "core/memory/memory.h"
#include "core/pattern/pattern_kind.h"
#include "core/prepare/backdrops.h"
#include "core/prepare/carried.h"
#include "core/prepare/homes.h"
#include "core/prepare/instances.h"
#include "core/prepare/rail_plan.h"
#include "core/prepare/stock.h"
#include "core/prepare/symmetries.h"
#include "core/prepare/whole.h"
#include "core/provide/definition.h"
#include "core/provide/placing.h"
#include "core/provide/store.h"
#include "core/resolve/references.h"
#include "core/resolve/resolve.h"

namespace gswarm {
namespace {

const Object& formationOf(const Scene& scene, const Object& swarm) { return scene.at(referenceOf(swarm.part("place"), "formation")); }

/// What the makers of the shapes that a formation stands on have to say.
void addNotes(const Scene& scene, const Object& formation, const Shapes& shapes, std::vector<std::string>& notes) {
    for (const Value& value : formation.part("formation").values) {
        const auto* id = std::get_if<ObjectId>(&value);
        if (!id || id->type() != ObjectType::shape || !scene.find(*id)) continue;
        if (const auto shape = shapes.get(*id); !shape->note.empty()) notes.push_back(scene.at(*id).name + ": " + shape->note);
    }
}

/// Which named values the columns of the homes fill, by their names; those that none is called by are told.
void addExtras(const Scene& scene, const Object& swarm, Plan& plan) {
    if (!plan.home.stored) return;
    std::vector<std::string> free;
    for (const HomeExtra& extra : plan.home.stored->extras) {
        const auto& numbers = swarm.list("namedValues");
        const auto found = std::find_if(numbers.begin(), numbers.end(), [&](ObjectId id) {
            return id == extra.value || (!extra.name.empty() && scene.at(id).name == extra.name);
        });
        const bool named = extra.what == HomeExtra::What::named;
        plan.extraNumbers.push_back(named && found != numbers.end() ? static_cast<int>(found - numbers.begin()) : -1);
        if (named && extra.told && found == numbers.end()) free.push_back("“" + extra.name + "”");
    }
    if (!free.empty())
        plan.notes.push_back("The file's " + std::string(free.size() == 1 ? "column " : "columns ") + listed(free) +
                             " can be used by gestures once the swarm has named values that are called so.");
}

/// Everything that stands before the rail.
void addStart(ContentHash& hash, const Scene& scene, const Object& swarm, const Plan& plan, const PlanOptions& options, Store& store) {
    hash.add(plan.home.hash);
    hash.add(std::uint64_t{plan.shown});
    addPose(hash, plan.pose);
    for (std::size_t k = 1; k < plan.copies.size(); ++k)
        for (int c = 0; c < 4; ++c)
            for (int r = 0; r < 3; ++r) hash.add(double(plan.copies[k][c][r]));
    const double frame = plan.moment.frame;
    hash.add(resolve(scene, swarm.part("stockRule"), frame).hash);
    for (const ObjectId id : swarm.list("stock")) {
        hash.add(id.bits);
        hash.add(resolve(scene, scene.at(id).part("entry"), frame).hash);
    }
    for (const Variant& variant : plan.stock.variants) hash.add(variant.meshes->hash);
    if (!plan.stock.clips.empty()) {
        // What is shown at other moments is not known yet.
        std::vector<ObjectId> shown;
        for (const Clip& clip : plan.stock.clips) shown.push_back(plan.stock.variants[clip.variant].shape);
        hash.add(frame);
        hash.add(definitionHash(scene, shown, options.projectFolder, store));
    }
    for (const auto& [id, standard] : plan.named) {
        hash.add(id.bits);
        hash.add(double(standard));
    }
    for (const int number : plan.extraNumbers) hash.add(static_cast<std::uint64_t>(number + 1));
    for (const Backdrop& backdrop : plan.backdrops) {
        hash.add(backdrop.shape.bits);
        hash.add(backdrop.meshes->hash);
        addPose(hash, backdrop.pose);
        hash.add(std::uint64_t{backdrop.dimmed});
        hash.add(std::uint64_t{backdrop.alone});
        hash.add(std::uint64_t{backdrop.copied});
    }
}

/// By how much a card may shift the time of later ones, frames.
double mostShiftOf(const Card& card) {
    return card.acts && card.kind().shiftsTime ? mostWeightOfShift * std::abs(card.kind().shiftsTime(card.change.data.get())) : 0;
}

std::shared_ptr<const Plan> railUntil(const Scene& scene, ObjectId swarm, double frame, int cards, const PlanOptions& options, Store& store,
                                      Progress& progress) {
    PlanOptions until = options;
    until.cards = cards;
    return std::make_shared<const Plan>(prepare(scene, swarm, frame, until, store, progress));
}

/// The least and largest distance of all homes from a place, also of those that a rehearsal leaves out.
void prepareDistances(const Scene& scene, const Object& swarm, const Plan& plan, Stagger& stagger, const PlanOptions& options, Store& store,
                      Progress& progress) {
    PlanOptions all = options;
    all.rehearsal = 1;
    const HomePlan homes = options.rehearsal == 1
                               ? plan.home
                               : prepareHomes(scene, swarm.id, formationOf(scene, swarm), plan.moment.frame, all, store, progress);
    struct Range {
        float low = std::numeric_limits<float>::max(), high = 0;
    };
    const std::function<std::shared_ptr<const Range>()> measure = [&] {
        std::vector<Range> ranges(static_cast<std::size_t>((homes.count + blockSize - 1) / blockSize));
        tbb::enumerable_thread_specific<std::unique_ptr<HomeColumns>> columns([] { return std::make_unique<HomeColumns>(); });
        forEach(ranges.size(), [&](std::size_t b) {
            HomeColumns& home = *columns.local();
            const int first = static_cast<int>(b) * blockSize, count = std::min(blockSize, homes.count - first);
            homes.place({first, count, homes.count}, home);
            for (int i = 0; i < count; ++i) {
                const glm::vec3 p{home.position.x[i], home.position.y[i], home.position.z[i]};
                const float away = glm::distance(p, stagger.place);
                ranges[b] = {std::min(ranges[b].low, away), std::max(ranges[b].high, away)};
            }
        });
        Range whole;
        for (const Range& range : ranges) whole = {std::min(whole.low, range.low), std::max(whole.high, range.high)};
        return std::make_shared<const Range>(whole);
    };
    ContentHash key;
    key.add("distances");
    key.add(homes.hash);
    for (int c = 0; c < 3; ++c) key.add(double(stagger.place[c]));
    const auto range = homes.hash ? store.get<Range>(key.value(), measure, [](const Range&) { return sizeof(Range); }) : measure();
    stagger.low = range->low;
    stagger.scale = range->high > range->low ? 1 / (range->high - range->low) : 0;
}

EarlierFrames earlierFrames(const Scene& scene, ObjectId swarm, Store& store, Progress& progress);

/// The cards of other swarms that share a world with one, at the same moment; those that do not act are left out.
std::vector<SharedCard> sharingWith(const Scene& scene, const Plan& plan, int card, const std::vector<WorldMember>& members,
                                    const PlanOptions& options, Store& store, Progress& progress) {
    std::vector<SharedCard> shared;
    const bool shares = std::any_of(members.begin(), members.end(),
                                    [&](const WorldMember& member) { return member.swarm == plan.swarm && member.card == card; });
    for (const WorldMember& member : members) {
        if (!shares || member.swarm == plan.swarm) continue;
        PlanOptions until = options;
        until.cards = member.card + 1;
        until.unmade = member.card;
        until.wanted = {};
        const double frame = plan.moment.frame;
        const MemoryPlan memory = memoryBeside(scene, member.swarm, plan.memory, frame, until,
                                               earlierFrames(scene, member.swarm, store, progress), store, progress);
        SharedCard other{prepareWith(scene, member.swarm, frame, until, memory, store, progress), member.card, 0};
        other.hash = other.plan.hash;
        if (other.plan.cards.back().acts) shared.push_back(std::move(other));
    }
    return shared;
}

/// Returns whether all that it depends on can be told by the hash.
bool prepareRail(const Scene& scene, const Object& swarm, const PlanOptions& options, Store& store, Progress& progress, ContentHash& hash,
                 Plan& plan) {
    if (plan.memory.any) {
        hash.add(plan.moment.frame);
        hash.add(plan.memory.hash);
    }
    RailSource source = railSourceOf(scene, plan.swarm, plan.moment.frame, options, store, progress);
    source.standing = plan.home.stored;
    if (plan.home.kind->lattice) source.lattice = plan.home.kind->lattice(plan.home.data.get());
    ResolvedPart& stockPattern = plan.stock.pattern;
    try {
        if (plan.stock.patternKind().prepare) plan.stock.patternKind().prepare(stockPattern.data.get(), source);
    } catch (const Error& error) {
        plan.notes.push_back(std::string("Which shape stands where waits: ") + error.what());
        stockPattern = resolve(scene, standardPart(steadyPattern), plan.moment.frame);
    }
    hash.add(stockPattern.hash);
    hash.add(source.hash->value());
    if (plan.stock.patternKind().moves && plan.stock.patternKind().moves(stockPattern.data.get())) hash.add(plan.moment.frame);
    const std::vector<WorldMember> world = worldOf(scene, plan.swarm);
    for (const WorldMember& member : world) source.sharing.push_back(member.swarm);
    double shift = 0;
    bool told = true;  // whether what it depends on can be told by a hash
    for (const ObjectId id : swarm.list("rail")) {
        const auto number = static_cast<int>(plan.cards.size());
        if (number >= options.cards) break;
        plan.cards.push_back(prepareCard(scene, scene.at(id), options, source, store, shift));
        Card& card = plan.cards.back();
        card.range = plan.homes;
        const Object* gesture = scene.find(card.gesture);
        card.seam = gesture ? static_cast<float>(seamAt(scene, *gesture, plan.moment.frame)) : 0;
        card.settles = gesture && plan.memory.before < memoryStart(scene, *gesture);
        if (card.acts && card.stagger.by == StaggerBy::distance)
            prepareDistances(scene, swarm, plan, card.stagger, options, store, progress);
        hash.add(source.hash->value());
        if (card.acts && card.kind().readsTravel && card.kind().readsTravel(card.change.data.get())) {
            hash.add(plan.moment.frame);
            constexpr double half = 0.5;  // frames
            card.before = railUntil(scene, plan.swarm, plan.moment.frame - half, number, options, store, progress);
            card.after = railUntil(scene, plan.swarm, plan.moment.frame + half, number, options, store, progress);
        }
        if (needsWhole(card) && options.rehearsal > 1) plan.wantWhole.push_back(id);
        if (number == options.unmade) {
            prepareRanges(plan, number, store, progress);
            break;
        }
        const std::uint64_t before = plan.home.hash ? hash.value() : 0;
        const std::vector<SharedCard> others =
            card.acts ? sharingWith(scene, plan, number, world, options, store, progress) : std::vector<SharedCard>{};
        for (const SharedCard& other : others) hash.add(other.hash), told = told && other.hash;
        prepareWhole(plan, number, before, others, store, progress);
        shift += mostShiftOf(card);
    }
    return told;
}

}  // namespace

ZoneState zoneStateAt(const Scene& scene, const Object& zone, double frame, Store& store) {
    const WorldPose pose = poseAt(scene, zone.id, frame, store);
    ZoneState state{pose.position, pose.rotation, {}};
    const Part& form = zone.part("form");
    std::size_t next = 0;
    for (std::size_t i = 0; i < form.values.size(); ++i)
        if (const auto* numbers = std::get_if<Numbers>(&form.values[i]))
            for (const Track& track : *numbers) state.numbers[next++] = static_cast<float>(valueAt(scene, track, frame));
    return state;
}

namespace {

EarlierFrames earlierFrames(const Scene& scene, ObjectId swarm, Store& store, Progress& progress) {
    return {[&scene, swarm, &store, &progress](double frame, const PlanOptions& options, const MemoryPlan& memory) {
                return prepareWith(scene, swarm, frame, options, memory, store, progress);
            },
            [&scene, swarm, &store, &progress](double frame, const PlanOptions& options) {
                return prepareHomes(scene, swarm, formationOf(scene, scene.at(swarm)), frame, options, store, progress);
            }};
}

}  // namespace

Plan prepare(const Scene& scene, ObjectId swarm, double frame, const PlanOptions& options, Store& store, Progress& progress) {
    const MemoryPlan memory = memoryFor(scene, swarm, frame, options, earlierFrames(scene, swarm, store, progress), store, progress);
    return prepareWith(scene, swarm, frame, options, memory, store, progress);
}

Plan prepareWith(const Scene& scene, ObjectId swarmId, double frame, const PlanOptions& options, const MemoryPlan& memory, Store& store,
                 Progress& progress) {
    const Object& swarm = scene.at(swarmId);
    if (swarm.list("rail").size() > mostCards)
        throw Error("“" + swarm.name + "” has more cards in its rail than the limit of " + std::to_string(mostCards) +
                    "; split it in two swarms.");
    if (swarm.list("namedValues").size() > mostNamedValues)
        throw Error("“" + swarm.name + "” has more named values than the limit of " + std::to_string(mostNamedValues) + "; delete some.");
    const Object& formation = formationOf(scene, swarm);
    const Shapes shapes = shapesAt(scene, frame, options, store, progress);
    Plan plan;
    plan.swarm = swarmId;
    plan.moment = momentAt(scene, frame);
    plan.memory = memory;
    plan.pose = poseAt(scene, swarmId, frame, store);
    plan.copies = copiesBySymmetries(scene, swarm, frame, plan.notes);
    plan.shown = switchAt(scene, swarm.part("place"), "shown", frame);
    plan.home = prepareHomes(scene, swarmId, formation, frame, options, store, progress);
    plan.count = plan.home.count;
    plan.total = plan.home.total;
    plan.homes = plan.home.bounds;
    Looks looks(scene, swarmId, &plan.home, frame, options.projectFolder, store);
    plan.stock = prepareStock(scene, swarm, frame, shapes, plan.home, looks, options, store, progress);
    // What is no instance has no values of its own: a material that goes by one asks the vertices.
    Looks around(scene, {}, nullptr, frame, options.projectFolder, store);
    if (options.backdrops) plan.backdrops = backdropsOf(scene, swarmId, frame, shapes, around, store, plan.notes);
    if (!around.note().empty()) plan.notes.push_back(around.note());
    for (const ObjectId id : swarm.list("namedValues"))
        plan.named.push_back({id, resolve(scene, scene.at(id).part("value"), frame).as<NamedValue>().standard});
    addExtras(scene, swarm, plan);
    addNotes(scene, formation, shapes, plan.notes);
    for (const std::string& note : {plan.home.note, plan.stock.note})
        if (!note.empty()) plan.notes.push_back(note);
    ContentHash hash;
    hash.add("plan");
    addStart(hash, scene, swarm, plan, options, store);
    hash.add(looks.hash());
    hash.add(around.hash());
    bool told = prepareRail(scene, swarm, options, store, progress, hash, plan);
    plan.wanted = options.wanted;
    const auto& variants = plan.stock.variants;
    told = told && std::none_of(variants.begin(), variants.end(), [](const Variant& v) { return v.inner && v.inner->hash == 0; });
    plan.hash = plan.home.hash && told ? hash.value() : 0;
    return plan;
}

void eachRemembered(const Scene& scene, ObjectId swarm, int first, int last, const PlanOptions& options, Store& store, Progress& progress,
                    const std::function<void(int frame, std::uint64_t key, const MemoryState&)>& take) {
    if (lastCardThatRemembers(scene, swarm) < 0) return;
    MemoryKeys keys(scene, swarm, options, store);
    for (int frame = std::max(first - 1, static_cast<int>(keys.start())); frame <= last; ++frame) {
        progress.check();
        const std::uint64_t key = keys.at(frame);
        auto state = store.checkpoints().find(key);
        if (!state) {
            memoryFor(scene, swarm, frame + 1.0, options, earlierFrames(scene, swarm, store, progress), store, progress);
            state = store.checkpoints().find(key);
        }
        if (state) take(frame, key, *state);
    }
}

void makeNextFrame(const Scene& scene, ObjectId swarm, int first, int last, const PlanOptions& options, Store& store, Progress& progress) {
    const std::vector<bool> known = knownFrames(scene, swarm, first, last, options, store);
    const auto missing = std::find(known.begin(), known.end(), false);
    if (missing != known.end())
        memoryFor(scene, swarm, first + double(missing - known.begin()) + 1, options, earlierFrames(scene, swarm, store, progress), store,
                  progress);
}

}  // namespace gswarm
