// Pictures in the real window: added, dropped, seen in their settings, and read by gestures.
#include <gtest/gtest.h>

#include <QFile>
#include <QLabel>
#include <QPixmap>
#include <QPushButton>
#include <QTemporaryDir>
#include <set>

#include "app/picture/picture.h"
#include "app/scene/scene_list.h"
#include "core/exchange/png.h"
#include "core/exchange/video_file.h"
#include "core/flow/result.h"
#include "core/material/material.h"
#include "core/media/media_kind.h"
#include "core/resolve/resolve.h"
#include "core/scene/frame_range.h"
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
    // The picture with the places of all instances on it stands where it is chosen: ivory dots on what is black.
    const auto dots = [&] {
        auto* label = hand.find<QLabel>("mediaPicture");
        const QImage shown = label ? label->pixmap().toImage() : QImage();
        int count = 0;
        for (int y = 0; y < shown.height(); ++y)
            for (int x = 0; x < shown.width() / 2 - 10; ++x) count += shown.pixelColor(x, y).lightness() > 150;
        return count;
    };
    EXPECT_TRUE(hand.eventually([&] { return dots() > 50; })) << dots();
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

TEST(MediaWindow, ALiveMosaicTakesFewActions) {
    // From an empty project: a hundred cells, each a frame later than the one before, in the tint of its own part of what a camera sees.
    Hand hand;
    hand.click("newSwarm");
    hand.click("addThing");
    Hand::answerMenu("Simulated camera");
    hand.click("add-media");
    hand.window().document().choose(hand.scene().at(hand.scene().all(ObjectType::swarm).back()).list("stock").front());
    hand.settle();
    hand.click("pickMaterial");
    hand.click("material-liveMosaic");
    const auto shown = [&]() -> const ShownPictures* {
        const auto result = hand.result();
        return result ? shownBy(result->variants.front().look) : nullptr;
    };
    ASSERT_TRUE(hand.eventually([&] { return shown() != nullptr; }));
    const auto result = hand.result();
    EXPECT_EQ(result->count, 100);
    EXPECT_EQ(hand.scene().all(ObjectType::media).size(), 1u) << "the camera that is there";
    const ShownPictures& all = *shown();
    EXPECT_EQ(all.across * all.down, 100);
    EXPECT_EQ(all.tints.size(), 100u);
    EXPECT_EQ(all.moments.size(), 100u);
    std::set<std::uint16_t> moments;
    for (std::uint32_t row = 0; row < 100; ++row) moments.insert(whichOf(all, lookedAt(*result, row)).later);
    EXPECT_EQ(moments.size(), 100u);
    // Its settings stand where it was chosen.
    hand.choose("part", "Its own part");
    ASSERT_TRUE(hand.eventually([&] { return shown() && shown()->own; }));
    hand.choose("mirrored", "Every second one");
    ASSERT_TRUE(hand.eventually([&] { return shown()->mirrored == ShownMirrored::everySecond; }));
}

TEST(MediaWindow, ADroppedClipMovesAndSaysWhatItIs) {
    static const QTemporaryDir folder;
    const QString file = folder.filePath("tide.mp4");
    VideoFormat format;
    format.width = format.height = 64;
    VideoFile clip(file.toStdString(), format);
    for (int k = 0; k < 20; ++k) clip.add(Image{64, 64, std::vector<std::uint8_t>(4 * 64 * 64, static_cast<std::uint8_t>(20 + 10 * k))});
    clip.commit();
    Hand hand;
    hand.click("newSwarm");
    ASSERT_TRUE(hand.dropFiles({file}, hand.find<SceneList>("sceneList")->viewport(), {40, 300}));
    const ObjectId media = mediaIn(hand);
    ASSERT_TRUE(media);
    EXPECT_EQ(hand.scene().at(media).part("media").kind, &clipMedia);
    EXPECT_TRUE(hand.eventually([&] { return told(hand) == "64 × 64 pixels. 20 pictures, 25 a second, 0.8 s, h264."; }))
        << told(hand).toStdString();
    const auto grey = [&] { return hand.find<QLabel>("mediaPicture")->pixmap().toImage().pixelColor(5, 5).red(); };
    const int first = grey();
    hand.window().document().setFrame(15);
    EXPECT_TRUE(hand.eventually([&] { return grey() > first + 60; })) << grey();
    // A damaged one says so in the same place, and the rest goes on.
    QFile damaged(QString::fromStdString((hand.window().document().folder() / "tide.mp4").string()));
    ASSERT_TRUE(damaged.open(QIODevice::WriteOnly | QIODevice::Truncate));
    damaged.write("no clip");
    damaged.close();
    hand.window().document().setFrame(16);
    EXPECT_TRUE(hand.eventually([&] { return told(hand).contains("is damaged, or no clip that can be read"); }))
        << told(hand).toStdString();
}

TEST(MediaWindow, RecordingMakesAClipOfTheProject) {
    Hand hand;
    hand.click("newSwarm");
    hand.click("addThing");
    Hand::answerMenu("Simulated camera");
    hand.click("add-media");
    const ObjectId camera = mediaIn(hand);
    hand.click("recordMedia");
    ASSERT_TRUE(hand.eventually([&] { return mediaIn(hand) != camera; }));
    const Object& clip = hand.scene().at(mediaIn(hand));
    EXPECT_EQ(clip.part("media").kind, &clipMedia);
    EXPECT_EQ(hand.window().document().chosen(), clip.id);
    const int frames = framesOf(hand.scene()).count();
    EXPECT_TRUE(hand.eventually([&] { return told(hand).startsWith(QString("160 × 90 pixels. %1 pictures, 25 a second").arg(frames)); }))
        << told(hand).toStdString();
    EXPECT_FALSE(hand.find<QPushButton>("recordMedia")) << "a clip is one already";
    // Once more, and given up.
    hand.window().document().choose(camera);
    hand.settle();
    const auto files = [&] { return std::distance(std::filesystem::directory_iterator(hand.window().document().folder()), {}); };
    const auto before = files();
    hand.click("recordMedia");
    if (hand.find<QPushButton>("recordMedia")->text().contains("cancel")) hand.click("recordMedia");
    ASSERT_TRUE(hand.eventually(
        [&] { return hand.find<QPushButton>("recordMedia") && hand.find<QPushButton>("recordMedia")->text().startsWith("Record "); }));
    EXPECT_LE(files(), before + 1);
}

TEST(MediaWindow, AnOwnPlaceIsDraggedInTheView) {
    Hand hand;
    hand.click("newSwarm");
    ASSERT_TRUE(hand.dropFiles({halves()}, hand.find<SceneList>("sceneList")->viewport(), {40, 300}));
    hand.addGesture("tint");
    hand.choose("kind-pattern", "Picture");
    auto& picture = hand.window().picture();
    EXPECT_FALSE(picture.handlePlace("width")) << "it lies over all homes";
    hand.choose("pattern-along", "Along Y, from above");
    hand.choose("pattern-over", "Own place");
    const ObjectId gesture = hand.window().document().chosen();
    const auto number = [&](const char* id, std::size_t component = 0) {
        return std::get<Numbers>(hand.scene().at(gesture).part("pattern")[id])[component].value;
    };
    hand.click("handles-move");
    ASSERT_TRUE(hand.eventually([&] { return picture.handlePlace("x").has_value(); }));
    hand.drag(&picture, *picture.handlePlace("x"), {60, 0});
    EXPECT_GT(number("centre", 0), 0.1);
    EXPECT_EQ(number("centre", 1), 0);
    hand.click("handles-size");
    ASSERT_TRUE(picture.handlePlace("width"));
    EXPECT_FALSE(picture.handlePlace("height")) << "it keeps its proportions";
    const double wide = number("width");
    hand.drag(&picture, *picture.handlePlace("width"), {40, 0});
    EXPECT_GT(number("width"), wide + 0.1);
    hand.click("handles-turn");
    ASSERT_TRUE(picture.handlePlace("angle"));
    hand.drag(&picture, *picture.handlePlace("angle"), {60, 0});
    EXPECT_NEAR(number("angle"), 30, 1);
    hand.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(number("angle"), 0);
    hand.choose("pattern-over", "Stretched");
    EXPECT_TRUE(hand.eventually([&] { return !picture.handlePlace("angle"); }));
}
