#include "core/memory/memory.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/base/content_hash.h"
#include "core/base/parallel.h"
#include "core/flow/flow.h"
#include "core/flow/home_plan.h"
#include "core/gesture/gesture_kind.h"
#include "core/provide/definition.h"
#include "core/provide/shapes.h"
#include "core/provide/store.h"
#include "core/resolve/hanging.h"
#include "core/resolve/references.h"
#include "core/resolve/resolve.h"

namespace gswarm {
namespace {

const Object* gestureOf(const Scene& scene, ObjectId railEntry) {
    return scene.find(referenceOf(scene.at(railEntry).part("entry"), "gesture"));
}

bool remembers(const Object& gesture) {
    const Part& follow = gesture.part("follow");
    return gestureKindOf(gesture.part("change")).remembers || choiceOf(follow, "weight") != "none" || choiceOf(follow, "driven") != "none";
}

/// Whether it starts one loop early.
bool startsEarly(const Object& gesture) {
    const Part& change = gesture.part("change");
    const GestureKind& kind = gestureKindOf(change);
    return (kind.startsEarly && kind.startsEarly(change)) || switchOf(gesture.part("follow"), "loops");
}

/// The largest size a number may have, or infinity where that can't be told from its track.
double largest(const Value& value) {
    double most = 0;
    for (const Track& track : std::get<Numbers>(value)) {
        if (track.formula || track.link) return std::numeric_limits<double>::infinity();
        if (!track.keyed()) most = std::max(most, std::abs(track.value));
        for (std::size_t k = 0; track.keyed() && k < track.keys->size(); ++k) {
            const Key& key = (*track.keys)[k];
            if (key.ease == Ease::free) return std::numeric_limits<double>::infinity();
            most = std::max(most, 2 * std::abs(key.value));
        }
    }
    return most;
}

/// By how many frames instances may see other moments than the frame's own.
double reachOf(const Scene& scene, const std::vector<ObjectId>& objects) {
    double over = 0, shifts = 0;
    for (const ObjectId id : objects) {
        if (id.type() != ObjectType::gesture) continue;
        const Object& gesture = scene.at(id);
        if (choiceOf(gesture.part("when"), "by") != "none") over = std::max(over, largest(gesture.part("when")["over"]));
        const Part& change = gesture.part("change");
        const GestureKind& kind = gestureKindOf(change);
        if (const Value* shift = kind.timeShift ? kind.timeShift(change) : nullptr) shifts += mostWeightOfShift * largest(*shift);
    }
    return over + shifts + 2;
}

bool isColour(const Part& part, std::size_t parameter) {
    const ParameterType type = part.kind->parameters[parameter].type;
    return type == ParameterType::colour || type == ParameterType::ramp;
}

/// All of a part but its colours: those lead to colours alone, and colours are not remembered.
void addTracks(const Part& part, ContentHash& hash, std::vector<const Track*>& moving) {
    Part uncoloured = part;
    for (std::size_t p = 0; p < part.values.size(); ++p)
        if (isColour(part, p)) uncoloured.values[p] = part.kind->parameters[p].standard;
    hash.add(resolvedWith(uncoloured, [](const Track& track) { return track.moves() ? 0 : track.value; }).hash);
    for (std::size_t p = 0; p < part.values.size(); ++p)
        if (const auto* numbers = std::get_if<Numbers>(&part.values[p]); numbers && !isColour(part, p))
            for (const Track& track : *numbers) {
                if (track.formula) hash.add(track.formula->text);
                if (track.moves()) moving.push_back(&track);
            }
}

/// The state with a row for every instance of other homes: those of the same id keep theirs, new ones begin settled.
std::shared_ptr<const MemoryState> movedTo(const std::shared_ptr<const MemoryState>& state, const HomePlan& from, const HomePlan& to) {
    std::vector<std::uint32_t> rows(static_cast<std::size_t>(state->count));
    for (std::size_t i = 0; i < rows.size(); ++i) rows[i] = static_cast<std::uint32_t>(i);
    const auto ids = idsOfRows(from, rows);
    std::vector<std::pair<std::uint64_t, std::uint32_t>> known;
    for (std::size_t i = 0; i < ids.size(); ++i) known.push_back({ids[i], rows[i]});
    std::sort(known.begin(), known.end());
    rows.resize(static_cast<std::size_t>(to.count));
    for (std::size_t i = 0; i < rows.size(); ++i) rows[i] = static_cast<std::uint32_t>(i);
    const auto wanted = idsOfRows(to, rows);
    const auto padded = (wanted.size() + 15) & ~std::size_t{15};
    auto out = std::make_shared<MemoryState>(*state);
    out->count = to.count;
    out->homes = to.hash;
    for (auto& loose : out->loose) loose.clear();  // it goes by rows
    for (std::size_t c = 0; c < out->cards.size(); ++c)
        for (std::size_t k = 0; k < out->cards[c].size(); ++k)
            if (!state->cards[c][k].empty()) out->cards[c][k].assign(padded, std::numeric_limits<float>::quiet_NaN());
    for (std::size_t i = 0; i < wanted.size(); ++i) {
        const auto found = std::lower_bound(known.begin(), known.end(), std::pair{wanted[i], 0u});
        if (found == known.end() || found->first != wanted[i]) continue;
        for (std::size_t c = 0; c < out->cards.size(); ++c)
            for (std::size_t k = 0; k < out->cards[c].size(); ++k)
                if (!out->cards[c][k].empty()) out->cards[c][k][i] = state->cards[c][k][found->second];
    }
    return out;
}

/// Runs the rail of one whole frame as far as its last card that remembers.
std::shared_ptr<const MemoryState> advanced(const Plan& plan, double frame, Store& store, Progress& progress) {
    auto state = emptyState(plan);
    state->frame = frame;
    forEach(static_cast<std::size_t>(plan.blocks()), [&](std::size_t b) {
        if (progress.cancelled()) return;
        FlowSpace& space = store.spaces().local();
        space.remember = state.get();
        runBlock(plan, static_cast<int>(b), space);
    });
    progress.check();
    return state;
}

const Object& formationOn(const Scene& scene, ObjectId swarm) { return scene.at(referenceOf(scene.at(swarm).part("place"), "formation")); }

/// The state of `frame` fitted to the homes of the frame that follows.
std::shared_ptr<const MemoryState> fitted(std::shared_ptr<const MemoryState> state, const Scene& scene, double next,
                                          const PlanOptions& options, const EarlierFrames& earlier) {
    if (!state) return nullptr;
    const HomePlan to = earlier.homes(next, options);
    if (to.hash && to.hash == state->homes) return state;
    const double seen = state->frame < firstFrameOf(scene) ? state->frame + momentAt(scene, 0).loopFrames : state->frame;
    return movedTo(state, earlier.homes(seen, options), to);
}

}  // namespace

int lastCardThatRemembers(const Scene& scene, ObjectId swarm) {
    const auto& rail = scene.at(swarm).list("rail");
    for (std::size_t c = rail.size(); c-- > 0;)
        if (const Object* gesture = gestureOf(scene, rail[c]); gesture && remembers(*gesture)) return static_cast<int>(c);
    return -1;
}

double firstFrameOf(const Scene& scene) {
    return std::floor(std::get<Numbers>(scene.project().part("settings")["firstFrame"]).front().value);
}

double memoryStart(const Scene& scene, const Object& gesture) {
    return firstFrameOf(scene) - (startsEarly(gesture) ? std::ceil(momentAt(scene, 0).loopFrames) : 0);
}

bool shiftsTimes(const Scene& scene, ObjectId swarm) {
    const auto& rail = scene.at(swarm).list("rail");
    return std::any_of(rail.begin(), rail.end(), [&](ObjectId entry) {
        const Object* gesture = gestureOf(scene, entry);
        if (!gesture) return false;
        const auto& timeShift = gestureKindOf(gesture->part("change")).timeShift;
        return timeShift && timeShift(gesture->part("change")) != nullptr;
    });
}

MemoryKeys::MemoryKeys(const Scene& scene, ObjectId swarmId, const PlanOptions& options, Store& store) : scene_(scene) {
    const Object& swarm = scene.at(swarmId);
    std::vector<ObjectId> roots = swarm.list("stock");
    roots.push_back(formationOn(scene, swarmId).id);
    for (const ObjectId id : swarm.list("namedValues")) roots.push_back(id);
    const int last = lastCardThatRemembers(scene, swarmId);
    for (int c = 0; c <= last; ++c) roots.push_back(swarm.list("rail")[static_cast<std::size_t>(c)]);
    if (const ObjectId from = hangsFrom(scene, swarmId)) roots.push_back(from);
    // What shares a world goes by the others, too.
    std::vector<ObjectId> places{swarmId};
    for (const WorldMember& member : worldOf(scene, swarmId)) {
        roots.push_back(scene.at(member.swarm).list("rail")[static_cast<std::size_t>(member.card)]);
        if (member.swarm == swarmId) continue;
        places.push_back(member.swarm);
        if (const ObjectId from = hangsFrom(scene, member.swarm)) roots.push_back(from);
    }
    const auto objects = everythingBehind(scene, roots);
    ContentHash hash;
    hash.add("memory, 3");  // the third course of what is remembered
    hash.add(swarmId.bits);
    for (const ObjectId id : roots) hash.add(id.bits);
    const Moment moment = momentAt(scene, 0);
    for (const double v : {moment.rate, moment.loopStart, moment.loopFrames, double(options.rehearsal), double(options.light)}) hash.add(v);
    hash.add(options.solo.bits);
    start_ = first_ = firstFrameOf(scene);
    loop_ = moment.loopFrames;
    hash.add(first_);
    for (const ObjectId id : places)
        for (const Part& part : scene.at(id).parts) addTracks(part, hash, moving_);
    for (const ObjectId id : objects) {
        const Object& object = scene.at(id);
        hash.add(id.bits);
        for (const Part& part : object.parts) {
            addTracks(part, hash, moving_);
            try {
                hash.add(filesHash(part, options.projectFolder, store.fileHashes()));
            } catch (const Error&) {
                hash.add("no file");
            }
        }
        for (const auto& list : object.lists)
            for (const ObjectId child : list) hash.add(child.bits);
        if (id.type() == ObjectType::gesture && remembers(object)) start_ = std::min(start_, memoryStart(scene, object));
    }
    const double reach = reachOf(scene, objects);
    if (reach < 1e6)
        ahead_ = std::ceil(reach);
    else
        for (const Track* track : moving_) addDefinition(hash, *track);
    still_ = hash.value();
}

std::uint64_t MemoryKeys::at(double frame) {
    const auto wanted = static_cast<std::size_t>(std::max(frame - start_, 0.0));
    const auto addFrame = [&](ContentHash& hash, double at) {
        hash.add(at);
        for (const Track* track : moving_) hash.add(valueAt(scene_, *track, at));
    };
    while (keys_.size() <= wanted) {
        ContentHash hash;
        hash.add(keys_.empty() ? still_ : keys_.back());
        const double at = start_ + double(keys_.size()), seen = at < first_ ? at + loop_ : at;
        if (keys_.empty() || at == first_)
            for (double f = seen - ahead_; f < seen + ahead_; ++f) addFrame(hash, f);
        addFrame(hash, seen + ahead_);
        keys_.push_back(hash.value());
    }
    return keys_[wanted];
}

std::shared_ptr<MemoryState> emptyState(const Plan& plan) {
    auto state = std::make_shared<MemoryState>();
    state->frame = plan.moment.frame;
    state->count = plan.count;
    state->homes = plan.home.hash;
    const auto padded = (static_cast<std::size_t>(plan.count) + 15) & ~std::size_t{15};
    for (const Card& card : plan.cards) {
        auto& columns = state->cards.emplace_back(card.remembered.size());
        for (std::size_t c = 0; c < columns.size(); ++c)
            if (card.remembered[c]) columns[c].resize(padded);
        auto& loose = state->loose.emplace_back();
        if (card.kind().carryOn && card.whole) loose = card.whole->back();
    }
    return state;
}

double seamAt(const Scene& scene, const Object& gesture, double frame) {
    const Part& change = gesture.part("change");
    const auto& blends = gestureKindOf(change).blendsSeam;
    if (!blends || !startsEarly(gesture)) return 0;
    const double loop = std::ceil(momentAt(scene, 0).loopFrames), over = std::min(blends(change), std::floor(loop / 2));
    const double into = frame - (firstFrameOf(scene) + loop - over);
    return over > 0 && into > 0 && into <= over ? into / over : 0;
}

namespace {

/// What was remembered one loop before a frame near a seam that is blended, in the order of that frame's homes.
LapBefore lapBefore(const Scene& scene, ObjectId swarm, double frame, const PlanOptions& options, const EarlierFrames& earlier,
                    MemoryKeys& keys, Store& store, Progress& progress) {
    const auto& rail = scene.at(swarm).list("rail");
    const bool near = std::any_of(rail.begin(), rail.end(), [&](ObjectId entry) {
        const Object* gesture = gestureOf(scene, entry);
        return gesture && seamAt(scene, *gesture, frame) > 0;
    });
    if (!near) return {};
    const auto at = [&](double wanted) {
        auto state = store.checkpoints().find(keys.at(wanted));
        if (!state) {
            memoryFor(scene, swarm, wanted + 1, options, earlier, store, progress);
            state = store.checkpoints().find(keys.at(wanted));
        }
        return fitted(state, scene, frame, options, earlier);
    };
    const double then = frame - std::ceil(momentAt(scene, 0).loopFrames), below = std::floor(then);
    LapBefore lap;
    lap.share = static_cast<float>(then - below);
    lap.below = at(below);
    lap.above = lap.share > 0 ? at(below + 1) : lap.below;
    return lap;
}

}  // namespace

namespace {

/// What is remembered at a whole frame from the first that is on, made by running the rail from the nearest frame that is known.
std::shared_ptr<const MemoryState> stateAt(const Scene& scene, ObjectId swarm, double wanted, const PlanOptions& options,
                                           const EarlierFrames& earlier, MemoryKeys& keys, Store& store, Progress& progress) {
    double known = wanted;
    std::shared_ptr<const MemoryState> state;
    for (; known >= keys.start() && !state; --known) state = store.checkpoints().find(keys.at(known));
    known = state ? state->frame : keys.start() - 1;
    const double first = firstFrameOf(scene);
    PlanOptions until = options;
    until.cards = lastCardThatRemembers(scene, swarm) + 1;
    until.unmade = -1;
    const double missing = wanted - known;
    for (double at = known + 1; at <= wanted; ++at) {
        progress.check();
        if (missing > 1) {
            progress.say(scene.at(swarm).name + ": following through, frame " + std::to_string(static_cast<long long>(at)));
            progress.report((at - known - 1) / missing);
        }
        MemoryPlan step;
        step.any = true;
        step.before = at - 1;
        step.frames = 1;
        step.hash = at > keys.start() ? keys.at(at - 1) : 0;
        const double seen = at < first ? at + momentAt(scene, 0).loopFrames : at;
        step.from = fitted(state, scene, seen, until, earlier);
        if (at >= first) step.lap = lapBefore(scene, swarm, at, until, earlier, keys, store, progress);
        const Plan plan = earlier.plan(seen, until, step);
        state = advanced(plan, at, store, progress);
        store.checkpoints().keep(keys.at(at), state);
    }
    return state;
}

}  // namespace

namespace {

/// Where a card carries on as a whole, a fractional frame lies between the states around it.
void seeAfter(MemoryPlan& memory, const Scene& scene, ObjectId swarm, double frame, const PlanOptions& options,
              const EarlierFrames& earlier, MemoryKeys& keys, Store& store, Progress& progress) {
    const auto& rail = scene.at(swarm).list("rail");
    const bool carriesOn = std::any_of(rail.begin(), rail.end(), [&](ObjectId entry) {
        const Object* gesture = gestureOf(scene, entry);
        return gesture && gestureKindOf(gesture->part("change")).carryOn;
    });
    if (!carriesOn || memory.frames == 1) return;
    const double next = memory.before + 1;
    memory.after = fitted(stateAt(scene, swarm, next, options, earlier, keys, store, progress), scene, frame, options, earlier);
    ContentHash both;
    both.add("between");
    both.add(keys.at(next));  // which goes by the frame before, too
    memory.hash = both.value();
}

}  // namespace

MemoryPlan memoryFor(const Scene& scene, ObjectId swarm, double frame, const PlanOptions& options, const EarlierFrames& earlier,
                     Store& store, Progress& progress) {
    MemoryPlan memory;
    const int last = lastCardThatRemembers(scene, swarm);
    if (last < 0 || last >= options.cards) return memory;
    memory.any = true;
    memory.before = std::ceil(frame) - 1;
    memory.frames = frame - memory.before;
    MemoryKeys keys(scene, swarm, options, store);
    const double first = firstFrameOf(scene);
    if (frame == std::floor(frame) && frame >= first) memory.key = keys.at(frame);
    if (frame < first || memory.before < keys.start()) return memory;
    memory.hash = keys.at(memory.before);
    const auto state = stateAt(scene, swarm, memory.before, options, earlier, keys, store, progress);
    memory.from = fitted(state, scene, frame, options, earlier);
    seeAfter(memory, scene, swarm, frame, options, earlier, keys, store, progress);
    memory.lap = lapBefore(scene, swarm, frame, options, earlier, keys, store, progress);
    return memory;
}

MemoryPlan memoryBeside(const Scene& scene, ObjectId swarm, const MemoryPlan& other, double seen, const PlanOptions& options,
                        const EarlierFrames& earlier, Store& store, Progress& progress) {
    MemoryPlan memory;
    memory.any = other.any;
    memory.before = other.before;
    memory.frames = other.frames;
    MemoryKeys keys(scene, swarm, options, store);
    if (!other.any || !other.hash || other.before < keys.start()) return memory;
    memory.hash = keys.at(other.before);
    memory.from = fitted(stateAt(scene, swarm, other.before, options, earlier, keys, store, progress), scene, seen, options, earlier);
    seeAfter(memory, scene, swarm, seen, options, earlier, keys, store, progress);
    if (other.before + other.frames >= firstFrameOf(scene))
        memory.lap = lapBefore(scene, swarm, seen, options, earlier, keys, store, progress);
    return memory;
}

std::vector<bool> knownFrames(const Scene& scene, ObjectId swarm, int first, int last, const PlanOptions& options, Store& store) {
    std::vector<bool> known(static_cast<std::size_t>(std::max(last - first + 1, 0)), true);
    if (lastCardThatRemembers(scene, swarm) < 0) return known;
    MemoryKeys keys(scene, swarm, options, store);
    // A frame is at hand if the state of one close before it is.
    double nearest = -std::numeric_limits<double>::max();
    for (double frame = keys.start(); frame <= last; ++frame) {
        if (store.checkpoints().has(keys.at(frame))) nearest = frame;
        if (frame >= first) known[static_cast<std::size_t>(frame - first)] = frame - nearest < Checkpoints::every;
    }
    return known;
}

}  // namespace gswarm
