// Formations that begin with what can be seen, and follow the shape they stand on until a person sets them.
#include <cmath>

#include "core/arrange/fitted_formation.h"
#include "core/formation/formation_kind.h"
#include "core/kinds/registry.h"
#include "core/read/overlaps.h"
#include "core/resolve/resolve.h"
#include "core/shape/shape_kind.h"

using namespace gswarm;
using making::Build;

namespace {

struct Fitting : Build {
    Store store;
    explicit Fitting(const std::string& kind) : Build(Build::grid(10, 1, 10)) { take(kind); }
    Edit take(const std::string& kind) {
        Edit edit = setFormationFitted(scene, formation, *findKind(Family::formation, kind), 0, {}, store);
        scene = edit.scene;
        return edit;
    }
    Fitting& change(Edit edit) {
        refit(scene, edit, 0, {}, store);
        scene = edit.scene;
        return *this;
    }
    ObjectId ground() const {
        for (const Value& value : scene.at(formation).part("formation").values)
            if (const auto* id = std::get_if<ObjectId>(&value); id && id->type() == ObjectType::shape) return *id;
        return {};
    }
    double length(const char* name) const { return std::get<Numbers>(scene.at(formation).part("formation")[name]).front().value; }
    bool fits() const { return switchOf(scene.at(formation).part("standing"), "fitted"); }
    bool stockFits() const { return switchOf(scene.at(swarm).part("stockRule"), "fit"); }
};

}  // namespace

TEST(FittedFormation, EveryKindBeginsWithWhatCanBeSeen) {
    for (const Kind* kind : kindsOf(Family::formation)) {
        if (kind->id == "pointsFile" || kind->id == "onSwarm") continue;  // as many as the file or the other swarm says
        Fitting f(kind->id);
        const int count = f.result()->count;
        EXPECT_GE(count, 20) << kind->id;
        EXPECT_LE(count, 2000) << kind->id;
        if (!static_cast<const FormationKind*>(kind)->fittedBy.empty() && f.fits()) {
            EXPECT_GE(count, 300) << kind->id;
            EXPECT_LE(count, 1200) << kind->id;
        }
    }
}

TEST(FittedFormation, FollowsItsShapeUntilTheLengthIsSet) {
    for (const auto& [kind, length, power] : {std::tuple{"cells", "spacing", 3.0}, {"evenlySpaced", "distance", 2.0}}) {
        Fitting f(kind);
        ASSERT_TRUE(f.fits()) << kind;
        const double before = f.length(length);
        const ObjectId ground = f.ground();
        f.change(setNumber(f.scene, addressOf(f.scene, ground, "radius"), 8, 0));  // four times as large
        EXPECT_NEAR(f.length(length) / before, 4, 0.8) << kind;
        EXPECT_GE(f.result()->count, 300) << kind;
        EXPECT_LE(f.result()->count, 1200) << kind;
        // What has nothing to do with it moves nothing.
        const double now = f.length(length);
        f.change(setNumber(f.scene, addressOf(f.scene, f.swarm, "scale"), 2, 0));
        EXPECT_EQ(f.length(length), now) << kind;
        f.change(setNumber(f.scene, addressOf(f.scene, f.formation, length), 1.37, 0));
        EXPECT_FALSE(f.fits()) << kind << ": the person has set it";
        f.change(setNumber(f.scene, addressOf(f.scene, ground, "radius"), 6, 0));
        EXPECT_EQ(f.length(length), 1.37) << kind;
    }
}

TEST(FittedFormation, StockLargerThanTheSpacingIsFittedInTheSameStepAndSaid) {
    Fitting f("grid");
    EXPECT_FALSE(f.stockFits()) << "boxes a metre apart have room";
    const Edit edit = f.take("evenlySpaced");
    EXPECT_TRUE(f.stockFits());
    EXPECT_NE(edit.label.find("stock fitted"), std::string::npos) << edit.label;
    Progress progress;
    EXPECT_LT(countOverlaps(*f.result(), progress), f.result()->count / 10) << "on a ball a few lean toward each other";
    EXPECT_FALSE(canFitStock(f.scene, f.swarm)) << "it is";
}

TEST(FittedFormation, LightsAsStockTakeUpNoRoom) {
    Fitting f("grid");
    const Edit spot = addLight(f.scene, *findKind(Family::light, "spot"));
    f.scene = spot.scene;
    const ObjectId entry = f.scene.at(f.swarm).list("stock").front();
    f.change(setValue(f.scene, addressOf(f.scene, entry, "shape"), spot.made));
    for (const char* kind : {"ring", "evenlySpaced", "cells", "grid"}) {
        const Edit edit = f.take(kind);
        EXPECT_GT(f.result()->count, 0) << kind;
    }
}

TEST(FittedFormation, AShapeThatDoesNotSuitIsNotTaken) {
    Fitting f("elements");
    f.scene = setKind(f.scene, f.ground(), "maker", cardShape).scene;
    const ObjectId card = f.ground();
    f.take("randomOnMesh");
    EXPECT_EQ(f.ground(), card) << "a card has a surface";
    f.take("cells");
    EXPECT_NE(f.ground(), card) << "and no inside";
    f.take("alongCurve");
    EXPECT_TRUE(static_cast<const ShapeKind&>(*f.scene.at(f.ground()).part("maker").kind).curves);
}

TEST(Gives, WhatKindsOfShapesHave) {
    EXPECT_TRUE(gives(ballShape, Needs::closedMesh));
    EXPECT_FALSE(gives(ballShape, Needs::curve));
    EXPECT_FALSE(gives(cardShape, Needs::closedMesh));
    EXPECT_TRUE(gives(cardShape, Needs::surface));
    EXPECT_FALSE(gives(pathShape, Needs::surface));
    EXPECT_TRUE(gives(pathShape, Needs::curve));
    EXPECT_TRUE(gives(letteringShape, Needs::curve));
    EXPECT_TRUE(gives(letteringShape, Needs::closedMesh));
}
