// Pictures in the real window: added, dropped, seen in their settings, and read by gestures.
#include <gtest/gtest.h>

#include <QLabel>
#include <QPixmap>
#include <QTemporaryDir>

#include "app/scene/scene_list.h"
#include "core/exchange/png.h"
#include "core/flow/result.h"
#include "core/media/media_kind.h"
#include "core/resolve/resolve.h"
#include "tests/app/hand.h"

using namespace gswarm;

namespace {

ObjectId mediaIn(Hand& hand) {
    const auto all = hand.scene().all(ObjectType::media);
    return all.empty() ? ObjectId{} : all.back();
}

QString told(Hand& hand) {
    auto* label = hand.find<QLabel>("mediaTold");
    return label ? label->text() : QString();
}

/// A picture whose left half is black and whose right half is white.
QString halves() {
    Image image{2, 1, {0, 0, 0, 255, 255, 255, 255, 255}};
    static const QTemporaryDir folder;
    writePng(image, std::filesystem::path(folder.path().toStdString()) / "halves.png");
    return folder.filePath("halves.png");
}

}  // namespace

TEST(MediaWindow, ASimulatedCameraSaysSoAndIsSeenMoving) {
    Hand hand;
    hand.click("newSwarm");
    hand.click("addThing");
    Hand::answerMenu("Simulated camera");
    hand.click("add-media");
    ASSERT_TRUE(mediaIn(hand));
    EXPECT_EQ(hand.window().document().chosen(), mediaIn(hand));
    EXPECT_TRUE(hand.eventually([&] { return told(hand).contains("No camera is opened"); })) << told(hand).toStdString();
    EXPECT_TRUE(told(hand).startsWith("160 × 90 pixels"));
    const auto seen = [&] { return hand.find<QLabel>("mediaPicture")->pixmap().toImage(); };
    const QImage first = seen();
    EXPECT_GT(first.width(), 100);
    hand.window().document().setFrame(40);
    EXPECT_TRUE(hand.eventually([&] { return seen() != first; }));
    // It is no file: without a choice of one, and undone at once.
    hand.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_FALSE(mediaIn(hand));
}

TEST(MediaWindow, AGestureTakesItsColoursFromADroppedPicture) {
    Hand hand;
    hand.click("newSwarm");
    ASSERT_TRUE(hand.dropFiles({halves()}, hand.find<SceneList>("sceneList")->viewport(), {40, 300}));
    const ObjectId media = mediaIn(hand);
    ASSERT_TRUE(media);
    EXPECT_EQ(hand.scene().at(media).name, "halves");
    EXPECT_EQ(hand.scene().at(media).part("media").kind, &pictureMedia);
    EXPECT_TRUE(hand.eventually([&] { return told(hand) == "2 × 1 pixels. One picture."; })) << told(hand).toStdString();
    // A gesture that colours by what drives it, driven by the picture.
    hand.addGesture("tint");
    hand.choose("kind-pattern", "Picture");
    hand.choose("pattern-channel", "Colour");
    hand.choose("pattern-along", "Along Y, from above");
    hand.choose("source", "What drives it");
    const ObjectId gesture = hand.window().document().chosen();
    EXPECT_EQ(referenceOf(hand.scene().at(gesture).part("pattern"), "media"), media) << "the picture that is there";
    const auto result = hand.result();
    ASSERT_TRUE(result);
    std::uint32_t left = 0, right = 0;
    float low = 1e9f, high = -1e9f;
    for (std::size_t i = 0; i < static_cast<std::size_t>(result->count); ++i) {
        const float x = result->columns->matrix[12 * i + 3];
        if (x < low) low = x, left = result->columns->colour[i];
        if (x > high) high = x, right = result->columns->colour[i];
    }
    EXPECT_EQ(left & 0xFFFFFF, 0u);
    EXPECT_EQ(right & 0xFFFFFF, 0xFFFFFFu);
}
