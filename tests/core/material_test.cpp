#include <gtest/gtest.h>

#include <nlohmann/json.hpp>

#include "core/base/error.h"
#include "core/edit/material_edits.h"
#include "core/edit/rail_edits.h"
#include "core/file/project_file.h"
#include "core/kinds/registry.h"
#include "core/material/material_kind.h"
#include "core/picture/trace.h"
#include "core/prepare/looks.h"
#include "tests/core/making.h"

using namespace gswarm;
using making::Build;

namespace {

const MaterialStart& startOf(const char* id) {
    for (const MaterialStart& start : materialStarts())
        if (start.id == id) return start;
    throw std::logic_error(id);
}

/// A row of nine with a material that goes from chalk to what glows.
struct Mixing {
    Build b = Build::grid(9, 1, 1);
    ObjectId mixed, second;
    Mixing() {
        const Edit edit = mixMaterial(b.scene, b.material);
        b.scene = edit.scene;
        mixed = edit.made;
        second = referenceOf(b.scene.at(mixed).part("material"), "second");
    }
    Material of(int row, float facing = 1) const {
        const auto result = b.result();
        const Surface surface = drawListOf(std::vector{result}).surfaces.front();
        LookedAt at = lookedAt(*result, static_cast<std::uint32_t>(row));
        at.facing = facing;
        return materialAt(result->variants.front().look, at);
    }
};

}  // namespace

TEST(Material, ANewSwarmHasOneOfItsOwnAndFurtherStockSharesIt) {
    Build b;
    EXPECT_EQ(materialOf(b.scene, b.stock), b.material);
    const Edit more = addStock(b.scene, b.swarm, b.shape);
    EXPECT_EQ(materialOf(more.scene, more.made), b.material);
    const Edit other = addSwarm(b.scene);
    EXPECT_NE(materialOf(other.scene, other.scene.at(other.made).list("stock").front()), b.material);
}

TEST(Material, EveryStartIsSoundAndSaved) {
    Scene scene = emptyScene();
    for (const MaterialStart& start : materialStarts()) {
        const Edit edit = addMaterial(scene, start);
        scene = edit.scene;
        EXPECT_EQ(scene.at(edit.made).name, start.label);
    }
    EXPECT_TRUE(parseProject(toJson(scene), "materials") == scene);
    EXPECT_EQ(scene.all(ObjectType::material).size(), materialStarts().size());
}

TEST(Material, ItsColourIsWhereInstancesBegin) {
    Build b = Build::grid(3, 1, 1);
    b.set(b.material, "colour", {1, 0, 0, 1});
    EXPECT_EQ(b.rows().front().colour, glm::vec4(1, 0, 0, 1));
    // Without one they are plain clay, whoever deleted it.
    b.scene = remove(b.scene, b.material).scene;
    EXPECT_NEAR(b.rows().front().colour.x, 0.78, 1e-6);
    b.scene = addMaterialFor(b.scene, b.stock, startOf("foil")).scene;
    EXPECT_NEAR(b.rows().front().colour.x, 0.93, 1e-6);
    EXPECT_EQ(b.result()->variants.front().look.plain.metal, 1);
}

TEST(Material, OnlyStockAndShapesHaveOne) {
    Build b;
    EXPECT_THROW(useMaterial(b.scene, b.swarm, b.material), Error);
    const Edit edit = useMaterial(b.scene, b.shape, b.material);
    EXPECT_EQ(materialOf(edit.scene, b.shape), b.material);
}

TEST(Material, ChangesWithKeysAndIsThenAnotherResult) {
    Build b = Build::grid(2, 1, 1);
    b.key(b.material, "roughness", {{0, 0.2, Ease::linear}, {10, 0.8, Ease::linear}});
    EXPECT_NEAR(b.result(0)->variants.front().look.plain.roughness, 0.2, 1e-6);
    EXPECT_NEAR(b.result(5)->variants.front().look.plain.roughness, 0.5, 1e-6);
    EXPECT_NE(b.result(0)->hash, b.result(5)->hash);
}

TEST(Material, IsMixedByTheShareOfTheNumber) {
    Mixing m;
    m.b.choose(m.mixed, "by", "share").set(m.b.material, "roughness", {1}).set(m.second, "roughness", {0});
    EXPECT_NEAR(m.of(0).roughness, 1, 1e-6);
    EXPECT_NEAR(m.of(4).roughness, 0.5, 1e-6);
    EXPECT_NEAR(m.of(8).roughness, 0, 1e-6);
    // Its response shapes it.
    m.b.set(m.mixed, "shaped-invert", true);
    EXPECT_NEAR(m.of(2).roughness, 0.25, 1e-6);
}

TEST(Material, IsMixedByANamedValueThatGesturesChange) {
    Mixing m;
    const Edit value = addNamedValue(m.b.scene, m.b.swarm, "Heat");
    m.b.scene = value.scene;
    const ObjectId g = m.b.gesture("number");
    m.b.set(g, "value", true).set(g, "valueOf", Value(value.made)).set(g, "valueAmount", {1});
    m.b.choose(m.mixed, "by", "namedValue").set(m.mixed, "value", Value(value.made));
    m.b.set(m.b.material, "metal", {0}).set(m.second, "metal", {1});
    EXPECT_EQ(m.b.result()->columns->mixed.size(), 9u);
    EXPECT_NEAR(m.of(0).metal, 0, 1e-6);
    EXPECT_NEAR(m.of(2).metal, 0.25, 1e-6);
    EXPECT_NEAR(m.of(8).metal, 1, 1e-6);
    // A value of another swarm is none of this one's: nothing is mixed in.
    const Edit other = addSwarm(m.b.scene);
    const Edit theirs = addNamedValue(other.scene, other.made, "Elsewhere");
    m.b.scene = theirs.scene;
    m.b.set(m.mixed, "value", Value(theirs.made));
    EXPECT_NEAR(m.of(8).metal, 0, 1e-6);
}

TEST(Material, IsMixedByTheWeightOfAGesture) {
    Mixing m;
    const ObjectId g = m.b.gesture(), zone = m.b.zone(g, "formula");
    m.b.set(zone, "weight", Value(Formula{"share", {}}));
    m.b.choose(m.mixed, "by", "weight").set(m.mixed, "gesture", Value(g));
    m.b.set(m.b.material, "metal", {0}).set(m.second, "metal", {1});
    EXPECT_NEAR(m.of(0).metal, 0, 1e-6);
    EXPECT_NEAR(m.of(2).metal, 0.25, 1e-6);
    EXPECT_NEAR(m.of(8).metal, 1, 1e-6);
    // As strongly as it acts: half its strength, half of it; switched off, nothing.
    m.b.set(g, "strength", {50});
    EXPECT_NEAR(m.of(8).metal, 0.5, 1e-6);
    const ObjectId entry = m.b.scene.at(m.b.swarm).list("rail").front();
    m.b.set(entry, "on", false);
    EXPECT_NEAR(m.of(8).metal, 0, 1e-6);
    // A gesture that is not on this rail mixes nothing in.
    const Edit other = addSwarm(m.b.scene);
    m.b.scene = other.scene;
    const ObjectId mine = std::exchange(m.b.swarm, other.made), theirs = m.b.gesture();
    m.b.swarm = mine;
    m.b.set(m.mixed, "gesture", Value(theirs));
    EXPECT_NEAR(m.of(8).metal, 0, 1e-6);
}

TEST(Material, IsMixedByFacing) {
    Mixing m;
    m.b.choose(m.mixed, "by", "facing").set(m.b.material, "roughness", {1}).set(m.second, "roughness", {0});
    EXPECT_NEAR(m.of(0, 0.25f).roughness, 0.75, 1e-6);
    EXPECT_NEAR(m.of(0, 1).roughness, 0, 1e-6);
}

TEST(Material, WhatALayerIsLikeIsMixedByHowMuchThereIsOfIt) {
    Material dull, lit;
    dull.rim = 0, dull.coatRoughness = 0.9f, dull.sheenColour = {0, 0, 1};
    lit.emission = 2, lit.emissionColour = {1, 0.5f, 0.25f};
    lit.rim = 1, lit.rimColour = {0, 1, 0}, lit.rimWidth = 0.1f, lit.rimOpacity = 0.5f;
    lit.coat = 1, lit.coatRoughness = 0.2f;
    lit.sheen = 0.8f, lit.sheenColour = {1, 0, 0};
    for (const float share : {0.1f, 0.5f, 0.9f}) {
        const Material half = mixed(dull, lit, share), other = mixed(lit, dull, 1 - share);
        EXPECT_EQ(half.emissionColour, lit.emissionColour) << "what gives no light has no say in its colour";
        EXPECT_FLOAT_EQ(half.emission, 2 * share);
        EXPECT_EQ(half.rimColour, lit.rimColour);
        EXPECT_EQ(half.rimWidth, lit.rimWidth);
        EXPECT_FLOAT_EQ(half.rimOpacity, 1 - 0.5f * share);
        EXPECT_EQ(half.coatRoughness, lit.coatRoughness);
        EXPECT_EQ(half.sheenColour, lit.sheenColour);
        for (int c = 0; c < 3; ++c) EXPECT_NEAR(half.emissionColour[c], other.emissionColour[c], 1e-6f) << "whichever is first";
    }
    EXPECT_EQ(mixed(dull, lit, 0).emission, 0);
    EXPECT_TRUE(mixed(dull, lit, 1) == lit);
    // Two that shine: by the light of each.
    dull.emission = 6, dull.emissionColour = {0, 0, 1};
    EXPECT_EQ(mixed(dull, lit, 0.5f).emissionColour, glm::vec3(0.25f, 0.125f, 0.8125f));
}

TEST(Material, InsidesAreMixedByWhatTheySwallow) {
    Material green, clear, stone;
    green.body = clear.body = MaterialBody::solid;
    green.transmission = clear.transmission = 1;
    green.attenuationColour = {0.25f, 1, 0.25f}, green.attenuationDistance = 2;
    const glm::vec3 whole = swallowedBy(green), half = swallowedBy(mixed(green, clear, 0.5f));
    EXPECT_NEAR(whole.x, std::log(4.0f) / 2, 1e-6f);
    for (int c = 0; c < 3; ++c) EXPECT_NEAR(half[c], whole[c] / 2, 1e-5f) << "half as much, though clear says a distance of none";
    // Mixed with what has no inside it lets less through, of the same colour.
    for (const float share : {0.2f, 0.99f}) {
        const Material some = mixed(green, stone, share);
        EXPECT_NEAR(some.transmission, 1 - share, 1e-6f);
        EXPECT_EQ(some.attenuationColour, green.attenuationColour);
        EXPECT_EQ(some.attenuationDistance, green.attenuationDistance);
    }
}

TEST(Material, CanNotBeMixedOfItself) {
    Mixing m;
    EXPECT_THROW(m.b.set(m.mixed, "second", Value(m.mixed)), Error);
}

TEST(Material, MixedOfMixedEndsSomewhere) {
    // A chain in which each mixes the one before with itself would take 2 to the power of its length.
    Build b = Build::grid(2, 1, 1);
    ObjectId last = b.material;
    for (int k = 0; k < 40; ++k) {
        const Edit mixed = mixMaterial(b.scene, last);
        b.scene = mixed.scene;
        b.set(mixed.made, "second", Value(last));
        last = mixed.made;
    }
    EXPECT_EQ(materialOf(b.scene, b.stock), last);
    EXPECT_EQ(b.result()->count, 2);
}

TEST(Material, GlowIsSeenInTheDarkAndLightsWhatIsNear) {
    Build b = Build::grid(1, 1, 1);
    b.scene = setKind(b.scene, b.shape, "maker", *findKind(Family::shape, "card")).scene;
    b.set(b.shape, "width", {20}).set(b.shape, "depth", {20});
    const ObjectId camera = b.scene.all(ObjectType::camera).front();
    b.set(b.sun(), "strength", {0}).set(b.sky(), "strength", {0}).set(b.sky(), "ground", false);
    b.set(camera, "position", {0, 5, 0.01}).set(camera, "target", {0, 0, 0});
    b.set(b.material, "colour", {1, 1, 1, 1});
    const auto middle = [&] {
        Progress progress;
        return trace(drawListOf(std::vector{b.result()}), settingAt(b.scene, 0, making::store()), {8, 8, 16, 1}, progress).pixels[4 * 36];
    };
    EXPECT_EQ(middle(), 0);
    b.set(b.material, "glows", true).set(b.material, "emission", {0.5});
    EXPECT_EQ(middle(), std::round(srgbFromLinear(0.5) * 255));
    b.set(b.material, "emissionColour", {0.5, 0, 0, 1});
    EXPECT_EQ(middle(), std::round(srgbFromLinear(0.5 * linearFromSrgb(0.5)) * 255));
}

TEST(Material, AttenuationColoursWhatGoesThrough) {
    // A slab of coloured glass in front of a lit wall of light: what goes straight through two metres is the colour squared.
    Build b = Build::grid(1, 1, 1);
    b.set(b.shape, "size", {8, 2, 8}).set(b.shape, "rounding", {0});
    const ObjectId camera = b.scene.all(ObjectType::camera).front();
    b.set(b.sun(), "strength", {0}).set(b.sky(), "strength", {1}).set(b.sky(), "ground", false);
    for (const char* sky : {"zenith", "horizon"}) b.set(b.sky(), sky, {1, 1, 1, 1});
    b.set(camera, "position", {0, 9, 0.01}).set(camera, "target", {0, 0, 0});
    b.set(b.material, "colour", {1, 1, 1, 1})
        .set(b.material, "roughness", {0})
        .choose(b.material, "body", "solid")
        .set(b.material, "ior", {1});
    const double half = srgbFromLinear(0.5);
    b.set(b.material, "attenuationColour", {half, 1, half, 1}).set(b.material, "attenuationDistance", {1});
    Progress progress;
    const Image image = trace(drawListOf(std::vector{b.result()}), settingAt(b.scene, 0, making::store()), {9, 9, 64, 1}, progress);
    const std::uint8_t* pixel = &image.pixels[4 * 40];
    // Below the sky is a quarter as bright as above.
    const double below = linearFromSrgb(pixel[1] / 255.0);
    EXPECT_GT(below, 0.2);
    EXPECT_NEAR(linearFromSrgb(pixel[0] / 255.0) / below, 0.25, 0.02);
}
