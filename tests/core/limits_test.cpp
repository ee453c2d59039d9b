// What can be made and saved opens again: random walks through every edit, and every limit told where it hurts.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <random>
#include <set>

#include "core/arrange/camera_edit.h"
#include "core/arrange/fitted_edits.h"
#include "core/arrange/hang.h"
#include "core/base/error.h"
#include "core/edit/gesture_starts.h"
#include "core/edit/key_edits.h"
#include "core/edit/rail_edits.h"
#include "core/edit/timing_edits.h"
#include "core/edit/variations.h"
#include "core/explain/findings.h"
#include "core/explain/loop_check.h"
#include "core/file/project_file.h"
#include "core/gesture/gesture_kind.h"
#include "core/kinds/registry.h"
#include "core/provide/placing.h"
#include "core/provide/store.h"
#include "core/resolve/resolve.h"
#include "core/resolve/soundness.h"
#include "core/scene/object_kinds.h"
#include "tests/core/making.h"

using namespace gswarm;
using making::Build;

namespace {

/// Walks through a scene by edits chosen by chance, as a restless hand would: anything anywhere, also where it makes no sense.
class Walk {
  public:
    explicit Walk(std::uint32_t seed) : dice_(seed), scene_(addSwarm(emptyScene()).scene) { know(); }

    /// One edit. What is refused changes nothing.
    void step() {
        try {
            Edit made = edit();
            refuseUnsound(made.scene, scene_);  // as the window does with every edit
            last = made.label;
            scene_ = std::move(made.scene);
            know();
            ++applied;
        } catch (const Error&) {
            ++refused;
        }
    }
    const Scene& scene() const { return scene_; }
    int applied = 0, refused = 0;
    std::string last;

  private:
    int below(int n) { return n < 1 ? 0 : static_cast<int>(dice_() % static_cast<std::uint32_t>(n)); }
    double share() { return static_cast<double>(dice_()) / 4294967296.0; }
    template <class List>
    auto one(const List& list) {
        return list[static_cast<std::size_t>(below(static_cast<int>(list.size())))];
    }
    /// Ids are drawn anew in every run, so that things are told apart by when they came: a seed always takes the same way.
    void know() {
        std::erase_if(known_, [&](ObjectId id) { return !scene_.find(id); });
        std::vector<ObjectId> fresh;
        const std::set<ObjectId> old(known_.begin(), known_.end());
        for (const auto& [id, object] : scene_.objects)
            if (!old.contains(id)) fresh.push_back(id);
        std::sort(fresh.begin(), fresh.end(),
                  [&](ObjectId a, ObjectId b) { return std::pair(a.type(), scene_.at(a).name) < std::pair(b.type(), scene_.at(b).name); });
        known_.insert(known_.end(), fresh.begin(), fresh.end());
    }
    ObjectId any() { return one(known_); }
    /// One of a type, or of any where there is none of it.
    ObjectId any(ObjectType type) {
        std::vector<ObjectId> found;
        for (const ObjectId id : known_)
            if (id.type() == type) found.push_back(id);
        if (found.empty()) throw Error("none of that type");
        return one(found);
    }
    Address number() {
        for (int tries = 0; tries < 40; ++tries) {
            const Address a = setting();
            const Parameter& p = parameterAt(scene_, a);
            if (!p.numeric() || !std::holds_alternative<Numbers>(valueOf(scene_, a))) continue;
            return {a.object, a.slot, a.parameter, p.components > 1 ? below(p.components) : -1};
        }
        throw Error("no number found");
    }
    Address setting() {
        const ObjectId id = any();
        const Object& object = scene_.at(id);
        const int slot = below(static_cast<int>(object.parts.size()));
        const int parameters = static_cast<int>(object.parts.at(static_cast<std::size_t>(slot)).kind->parameters.size());
        if (parameters == 0) throw Error("no settings");
        return {id, slot, below(parameters), -1};
    }
    /// Anywhere in the hard range: its ends, 0, near the default, or evenly.
    double within(const Parameter& p) {
        const double low = p.hard.low, high = p.hard.high;
        const double picks[] = {low,
                                high,
                                std::clamp(0.0, low, high),
                                std::clamp(p.suggested.low, low, high),
                                low + (high - low) * share(),
                                std::clamp(p.suggested.low + (p.suggested.high - p.suggested.low) * share(), low, high)};
        return picks[below(6)];
    }
    Value anyValue(const Parameter& p) {
        if (std::holds_alternative<Numbers>(p.standard)) {
            Numbers numbers;
            for (int c = 0; c < p.components; ++c) numbers.push_back({within(p)});
            return numbers;
        }
        if (std::holds_alternative<bool>(p.standard)) return below(2) == 1;
        if (std::holds_alternative<ObjectId>(p.standard)) return below(4) ? any() : ObjectId{};
        if (!p.choices.empty()) return one(p.choices).id;
        if (std::holds_alternative<std::string>(p.standard))
            return one(std::vector<std::string>{"", "gone.obj", "../x", "Reef", std::string(3000, 'x'), "\xFF", "24",
                                                std::string("a\0b", 3), "0", "“é”\n"});
        if (std::holds_alternative<Points>(p.standard))
            return Points(static_cast<std::size_t>(below(30)), {share() * 2e6 - 1e6, 0, share()});
        if (std::holds_alternative<Ramp>(p.standard)) {
            Ramp ramp(static_cast<std::size_t>(below(mostRampStops + 3)));
            for (std::size_t k = 0; k < ramp.size(); ++k) ramp[k] = {static_cast<double>(k) / 20, {share() * 64, 0, -share(), 1}};
            return ramp;
        }
        if (std::holds_alternative<CurvePoints>(p.standard)) {
            CurvePoints curve(static_cast<std::size_t>(below(mostCurvePoints + 3)));
            for (std::size_t k = 0; k < curve.size(); ++k) curve[k] = {static_cast<double>(k) / 20, share(), share(), -share()};
            return curve;
        }
        return Formula{one(std::vector<std::string>{"x", "sin(", "", std::string(4000, '1'), std::string(4001, '1')}), {}};
    }
    std::vector<KeyPlace> someKeys() {
        const ObjectId id = any();
        std::vector<KeyPlace> keys;
        for (const Address& number : keyedNumbers(scene_, id))
            for (const Key& key : *trackAt(scene_, number).keys)
                if (below(2)) keys.push_back({number, key.frame});
        return keys;
    }
    std::string formulaText() {
        const auto names = reachable();
        return one(std::vector<std::string>{"sin(t)", "1/0", "frame * 2", "i", names.empty() ? "t" : one(names) + " + 1", "loop"});
    }
    std::vector<std::string> reachable() {
        std::vector<std::string> out;
        for (const ObjectId id : scene_.order)
            if (scene_.at(id).name.find('\'') == std::string::npos && id.type() == ObjectType::zone)
                out.push_back("'" + scene_.at(id).name + "'.position.x");
        return out;
    }
    const Kind& kindOf(Family family) { return *one(kindsOf(family)); }

    Edit edit() {
        // What grows without end only takes time.
        if (scene_.objects.size() > 200 && below(3) == 0) return remove(scene_, any());
        switch (below(41)) {
            case 0:
            case 1:
            case 2:
            case 3:
            case 4:
            case 5:
            case 6: {
                const Address a = setting();
                return setValue(scene_, a, anyValue(parameterAt(scene_, a)));
            }
            case 7:
            case 8: {
                const Address a = number();
                return setNumber(scene_, a, within(parameterAt(scene_, a)), below(200));
            }
            case 9:
                return rename(
                    scene_, any(),
                    one(std::vector<std::string>{"Swell", "it's", std::string(200, 'n'), std::string(199, 'x') + "\xC3\xA9", "", "a.b"}));
            case 10: {
                const ObjectId id = any();
                const auto& slots = classOf(id.type()).slotInfos;
                const SlotInfo& slot = slots[static_cast<std::size_t>(below(static_cast<int>(slots.size())))];
                if (slot.only) throw Error("only one kind");
                return setKind(scene_, id, slot.id, kindOf(slot.family));
            }
            case 11:
                return addMount(scene_);
            case 12:
                return addSwarm(scene_);
            case 13:
                return addShape(scene_, kindOf(Family::shape));
            case 14:
                return setFormation(scene_, any(ObjectType::formation), kindOf(Family::formation));
            case 15:
                return addFormationVersion(scene_, any(ObjectType::swarm));
            case 16:
                return breakUp(scene_, any(ObjectType::shape));
            case 17:
            case 18:
                return addGesture(scene_, any(ObjectType::swarm), one(gestureStarts()).make());
            case 19:
                return addGestureStart(scene_, any(ObjectType::swarm), one(gestureStarts()), {1, 2}, nullptr);
            case 20:
                return below(2) ? addZone(scene_, any(ObjectType::gesture), kindOf(Family::zone))
                                : addZoneFitted(scene_, any(ObjectType::gesture), kindOf(Family::zone), nullptr);
            case 21:
                return weaveZone(scene_, any(ObjectType::gesture), any(ObjectType::zone));
            case 22:
                return addStock(scene_, any(ObjectType::swarm), any(ObjectType::shape));
            case 23:
                return remove(scene_, any());
            case 24: {
                const ObjectId id = any();
                if (!scene_.ownerOf(id)) throw Error("owned by none");
                return moveInList(scene_, id, below(5));
            }
            case 25:
                return duplicateCard(scene_, any(ObjectType::rail), below(2) ? ZonesOfCopy::own : ZonesOfCopy::shared);
            case 26:
                return copyCard(scene_, any(ObjectType::rail), any(ObjectType::swarm));
            case 27:
                return shareCard(scene_, any(ObjectType::rail), any(ObjectType::swarm));
            case 28:
                return giveOwnCopy(scene_, any(ObjectType::rail));
            case 29:
                return below(2) ? copyRail(scene_, any(ObjectType::swarm), any(ObjectType::swarm))
                                : shareRail(scene_, any(ObjectType::swarm), any(ObjectType::swarm));
            case 30:
                return addNamedValue(scene_, any(ObjectType::swarm), "amount");
            case 31:
                return addChosenZone(scene_, any(ObjectType::gesture), {1, 5, 18446744073709551615ull});
            case 32: {
                const ObjectId entry = any(ObjectType::weave);
                const int what = below(3);
                if (what == 2 && scene_.at(entry).list("group").empty()) throw Error("no group");
                return what == 0 ? groupEntry(scene_, entry) : what == 1 ? moveIntoGroup(scene_, entry) : ungroup(scene_, entry);
            }
            case 33:
            case 34:
                return toggleKey(scene_, number(), below(100) - 20);
            case 35: {
                const auto keys = someKeys();
                const int what = below(6);
                return what == 0   ? removeKeys(scene_, keys)
                       : what == 1 ? moveKeys(scene_, keys, share() * 2e7 - 1e7)
                       : what == 2 ? stretchKeys(scene_, keys, 10, share() * 1e6)
                       : what == 3 ? mirrorKeys(scene_, keys)
                       : what == 4 ? snapKeys(scene_, keys)
                                   : setKeyEase(scene_, keys, static_cast<Ease>(below(8)));
            }
            case 36:
                return setFormula(scene_, number(), formulaText());
            case 37: {
                const Address a = number(), b = number();
                return setLink(scene_, a, suggestedLink(scene_, a, b));
            }
            case 38: {
                const ObjectId gesture = any(ObjectType::gesture);
                const int what = below(5);
                return what == 0   ? growFrom(scene_, gesture, below(50))
                       : what == 1 ? setEach(scene_, gesture, share() * 1e6)
                       : what == 2 ? setLastStart(scene_, gesture, share() * 1e6)
                       : what == 3 ? setDone(scene_, gesture, share() * 1e6)
                                   : setGrowthEase(scene_, gesture, static_cast<Ease>(below(8)));
            }
            case 39:
                return hang(scene_, any(), below(3) ? any() : ObjectId{}, below(100), making::store());
            default:
                return below(2) ? setRate(scene_, one(std::vector<std::string>{"24", "30000/1001", "1000", "0", "x", "0.001"}),
                                          below(2) ? RateKeeps::frames : RateKeeps::seconds)
                                : setFixed(scene_, number(), below(100));
        }
    }

    std::mt19937 dice_;
    Scene scene_;
    std::vector<ObjectId> known_;
};

}  // namespace

class RandomWalk : public testing::TestWithParam<int> {};

TEST_P(RandomWalk, WhatAThousandEditsMakeOpensAgainTheSame) {
    Walk walk(static_cast<std::uint32_t>(GetParam()));
    for (int tens = 0; tens < 100; ++tens) {
        std::string trail;
        for (int k = 0; k < 10; ++k) {
            ASSERT_NO_THROW(walk.step()) << "after “" << walk.last << "”";
            trail += walk.last + "; ";
        }
        // Sanitizers look at the edits, which they make slow; every fourth file is enough for them.
        if (making::sanitized && tens % 4 != 0) continue;
        const std::string saved = toJson(walk.scene());
        try {
            const Scene opened = parseProject(saved, "walk");
            ASSERT_TRUE(opened == walk.scene()) << trail;
            if (tens % 20 == 0) {
                ASSERT_EQ(toJson(opened), saved) << trail;
            }
        } catch (const Error& error) {
            FAIL() << error.what() << " after: " << trail;
        }
    }
    EXPECT_GT(walk.applied, 300) << "too few edits went through: the walk proves little";
    EXPECT_GT(walk.refused, 10);
}
INSTANTIATE_TEST_SUITE_P(Seeds, RandomWalk, testing::Range(1, 9));

TEST(Limits, TheSixtyFifthCardIsRefusedAtOnceWhicheverWay) {
    Build b = Build::grid(1, 1, 1);
    for (int k = 0; k < mostCards; ++k) b.gesture();
    const ObjectId card = b.scene.at(b.swarm).list("rail").front();
    Build other = b;
    other.scene = addSwarm(b.scene).scene;
    const ObjectId second = other.scene.all(ObjectType::swarm).back();
    const auto refused = [](const std::function<void()>& make) {
        try {
            make();
            return std::string();
        } catch (const Error& error) {
            return std::string(error.what());
        }
    };
    for (const auto& said :
         {refused([&] { b.gesture(); }), refused([&] { duplicateCard(b.scene, card, ZonesOfCopy::own); }),
          refused([&] { copyRail(other.scene, b.swarm, b.swarm); }),
          refused([&] { shareRail(other.scene, second, b.swarm); }).empty() ? refused([&] { shareCard(other.scene, card, b.swarm); })
                                                                            : std::string()})
        EXPECT_NE(said.find("64 cards in its rail, the limit"), std::string::npos) << said;
}

TEST(Limits, AFileWithMoreThanCanBeEvaluatedOpensAndSaysSo) {
    Build b = Build::grid(1, 1, 1);
    // A scene from before the window refused it: the 65th card is put there by hand.
    for (int k = 0; k < mostCards; ++k) b.gesture();
    const Object gesture = b.scene.at(referenceOf(b.scene.at(b.scene.at(b.swarm).list("rail").front()).part("entry"), "gesture"));
    Object card = b.scene.at(b.scene.at(b.swarm).list("rail").front());
    card.id = newObjectId(ObjectType::rail);
    auto swarm = std::make_shared<Object>(b.scene.at(b.swarm));
    swarm->list("rail").push_back(card.id);
    b.scene.objects[card.id] = std::make_shared<Object>(card);
    b.scene.objects[b.swarm] = swarm;
    const Scene opened = parseProject(toJson(b.scene), "many");
    EXPECT_TRUE(opened == b.scene);
    Store store;
    Progress progress;
    const auto findings = findingsIn(opened, 0, {}, store, progress);
    ASSERT_EQ(findings.size(), 1u);
    EXPECT_EQ(findings[0].object, b.swarm);
    EXPECT_NE(findings[0].sentence.find("more cards in its rail than the limit of 64"), std::string::npos) << findings[0].sentence;
}

TEST(Limits, TooManyInstancesMissingFilesAndLostThingsAreFindings) {
    Build b = Build::grid(1000, 1000, 500);
    b.scene = setKind(b.scene, b.shape, "maker", *findKind(Family::shape, "meshFile")).scene;
    b.set(b.shape, "file", std::string("gone.obj"));
    const ObjectId lost = b.gesture();
    const ObjectId zone = b.zone(b.gesture(), "ball");
    b.set(zone, "radius", {1});
    b.scene.objects.erase(lost);
    std::erase(b.scene.order, lost);
    const Scene opened = parseProject(toJson(b.scene), "lost");
    EXPECT_TRUE(opened == b.scene);
    Store store;
    Progress progress;
    std::string all;
    for (const Finding& finding : findingsIn(opened, 0, {}, store, progress)) all += finding.sentence + "\n";
    for (const char* wanted : {"500 000 000", "“gone.obj” is missing", "refers to something that is not in the project"})
        EXPECT_NE(all.find(wanted), std::string::npos) << wanted << " in:\n" << all;
    // With a count that can be made, the card whose gesture is gone waits and the rest works on.
    b.set(b.formation, "count", {2, 1, 2});
    b.scene = setKind(b.scene, b.shape, "maker", *findKind(Family::shape, "box")).scene;
    const auto result = b.result();
    EXPECT_EQ(result->count, 4);
    EXPECT_NE(result->cards.at(0).waits.find("not in the project"), std::string::npos);
    EXPECT_TRUE(result->cards.at(1).acts);
}

TEST(Limits, ANumberWithoutAValueIsAFinding) {
    Build b;
    b.scene = setFormula(b.scene, addressOf(b.scene, b.swarm, "position", 1), "1 / (t - t)").scene;
    Store store;
    Progress progress;
    const auto findings = findingsIn(b.scene, 0, {}, store, progress);
    ASSERT_EQ(findings.size(), 1u);
    EXPECT_NE(findings[0].sentence.find("formula gives no"), std::string::npos) << findings[0].sentence;
}

TEST(Limits, ManyNamesInFormulasAreWorkedOutOnce) {
    // Each mount's place is read twice by the one before: without memory that would be 2^40 readings.
    Scene scene = emptyScene();
    std::vector<ObjectId> mounts;
    for (int k = 0; k < 80; ++k) {
        Edit edit = addMount(scene);
        mounts.push_back(edit.made);
        scene = rename(edit.scene, edit.made, "m" + std::to_string(k)).scene;
    }
    for (int k = 0; k + 2 < 80; k += 2)
        for (int side = 0; side < 2; ++side)
            scene = setFormula(scene, addressOf(scene, mounts[static_cast<std::size_t>(k + side)], "position", 0),
                               "m" + std::to_string(k + 2) + ".position.x / 2 + m" + std::to_string(k + 3) + ".position.x / 2 + 1")
                        .scene;
    const auto value = valueAtAddress(scene, toText(mounts[0]) + "/position.x", 0);
    ASSERT_TRUE(value);
    EXPECT_DOUBLE_EQ(*value, 39);
    EXPECT_TRUE(parseProject(toJson(scene), "many") == scene);
}
