// Materials and lamps, as they are chosen, mixed and moved by hand.
#include <gtest/gtest.h>

#include <fstream>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QScrollArea>
#include <QTest>
#include <QToolButton>

#include "app/fields/switch.h"
#include "app/picture/handles.h"
#include "app/picture/picture.h"
#include "app/settings/parameter_row.h"
#include "core/edit/material_edits.h"
#include "core/exchange/png.h"
#include "core/light/light_kind.h"
#include "core/material/material_kind.h"
#include "core/picture/draw_list.h"
#include "core/picture/view.h"
#include "core/provide/placing.h"
#include "core/resolve/resolve.h"
#include "tests/app/hand.h"

using namespace gswarm;

namespace {

struct Dressing : Hand {
    Dressing() {
        click("newSwarm");
        window().document().choose(stock());
        settle();
    }
    Document& document() { return window().document(); }
    ObjectId stock() { return scene().at(document().swarm()).list("stock").front(); }
    ObjectId material() { return materialOf(scene(), stock()); }
    const Part& part(ObjectId material) { return scene().at(material).part("material"); }
    /// Of an instance, facing the eye.
    Material of(int row) {
        const auto now = result();
        return materialAt(now->variants.front().look, lookedAt(*now, static_cast<std::uint32_t>(row)));
    }
    /// Clicks the switch in a row.
    void turn(const QString& row) {
        auto* box = find<QWidget>(row)->findChild<Switch*>();
        ASSERT_NE(box, nullptr) << row.toStdString();
        click(box, box->rect().center());
    }
    /// The tile of the open gallery.
    QToolButton* tile(const char* name) { return find<QToolButton>(name); }
};

bool isPicture(const QToolButton* tile) {
    const QImage seen = tile->icon().pixmap(88, 60).toImage();
    int opaque = 0;
    for (int y = 0; y < seen.height(); ++y)
        for (int x = 0; x < seen.width(); ++x) opaque += seen.pixelColor(x, y).alpha() == 255;
    return seen.width() == 88 && opaque == 88 * 60;
}

}  // namespace

TEST(LookWindow, AMaterialIsChosenFromPicturesAndTakenBack) {
    Dressing hand;
    const ObjectId clay = hand.material();
    ASSERT_TRUE(clay);
    hand.click("pickMaterial");
    ASSERT_TRUE(hand.tile("material-foil"));
    ASSERT_TRUE(hand.tile("project-material-1")) << "what the project has stands in it too";
    for (const char* name : {"project-material-1", "material-clay"})
        EXPECT_TRUE(hand.eventually([&] { return isPicture(hand.tile(name)); })) << name;
    hand.click("material-foil");
    EXPECT_NE(hand.material(), clay);
    EXPECT_EQ(hand.scene().at(hand.material()).name, "Foil");
    EXPECT_EQ(numberAt(hand.scene(), hand.part(hand.material()), "metal", 0), 1);
    ASSERT_TRUE(hand.eventually([&] { return hand.of(0).metal == 1; }));
    // The old one stays and can be shared again.
    hand.click("pickMaterial");
    hand.click("project-material-1");
    EXPECT_EQ(hand.material(), clay);
    hand.key(Qt::Key_Z, Qt::ControlModifier);
    hand.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(hand.scene().all(ObjectType::material), std::vector<ObjectId>{clay});
}

TEST(LookWindow, ItsRowsStandWithTheStockAndChangeEveryInstance) {
    Dressing hand;
    hand.typeNumber("roughness", "0.15");
    EXPECT_EQ(numberAt(hand.scene(), hand.part(hand.material()), "roughness", 0), 0.15);
    ASSERT_TRUE(hand.eventually([&] { return hand.of(0).roughness == 0.15f; }));
    EXPECT_FALSE(hand.field("emission"));
    hand.turn("glows");
    ASSERT_TRUE(hand.field("emission"));
    hand.typeNumber("emission", "7");
    ASSERT_TRUE(hand.eventually([&] { return hand.of(0).emission == 7; }));
}

TEST(LookWindow, AMaterialThatBecomesMixedStaysOneOfTheTwo) {
    Dressing hand;
    const ObjectId clay = hand.material();
    hand.typeNumber("roughness", "0.15");
    hand.document().choose(clay);
    hand.settle();
    hand.choose("kind-material", "Mixed");
    const ObjectId mixed = hand.material();
    ASSERT_NE(mixed, clay);
    EXPECT_EQ(hand.document().chosen(), mixed) << "its settings are at hand";
    EXPECT_EQ(referenceOf(hand.part(mixed), "first"), clay);
    EXPECT_TRUE(referenceOf(hand.part(mixed), "second"));
    EXPECT_EQ(numberAt(hand.scene(), hand.part(clay), "roughness", 0), 0.15);
    // Another kind than that is only another kind.
    const ObjectId second = referenceOf(hand.part(mixed), "second");
    hand.choose("kind-material", "Plain");
    EXPECT_EQ(hand.material(), mixed);
    EXPECT_NE(hand.part(mixed).kind, &mixedMaterial);
    EXPECT_TRUE(hand.scene().find(second));
}

TEST(LookWindow, AMixedMaterialIsBuiltByHand) {
    Dressing hand;
    const ObjectId clay = hand.material();
    hand.click("mixMaterial");
    const ObjectId mixed = hand.material();
    ASSERT_NE(mixed, clay);
    EXPECT_EQ(hand.part(mixed).kind, &mixedMaterial);
    hand.choose("by", "The number's share");
    const int last = hand.result()->count - 1;
    ASSERT_TRUE(hand.eventually([&] { return hand.of(last).emission > 0; }));
    EXPECT_EQ(hand.of(0).emission, 0);
    const float full = hand.of(last).emission;
    // Its response: nothing of the second until the half.
    hand.typeNumber("shaped-inLow", "0.5");
    ASSERT_TRUE(hand.eventually([&] { return hand.of(last / 3).emission == 0; }));
    EXPECT_EQ(hand.of(last).emission, full);
    // Each of the two opens its own settings.
    hand.click("open-second");
    EXPECT_EQ(hand.document().chosen(), referenceOf(hand.part(mixed), "second"));
    hand.typeNumber("emission", "12");
    ASSERT_TRUE(hand.eventually([&] { return hand.of(last).emission == 12; }));
}

TEST(LookWindow, ALampIsAddedMovedAndBrightensTheView) {
    Dressing hand;
    const auto bright = [&] {
        hand.settle();
        QTest::qWait(600);
        const QImage seen = hand.window().picture().grab().toImage();
        double sum = 0;
        for (int y = seen.height() / 4; y < seen.height() * 3 / 4; y += 4)
            for (int x = seen.width() / 4; x < seen.width() * 3 / 4; x += 4) sum += qGray(seen.pixel(x, y));
        return sum / (seen.width() * seen.height() / 64);
    };
    const double before = bright();
    hand.click("addThing");
    Hand::answerMenu("Spot light");
    hand.click("add-light");
    const auto lights = hand.scene().all(ObjectType::light);
    ASSERT_EQ(lights.size(), 3u);
    const ObjectId spot = hand.document().chosen();
    EXPECT_EQ(spot.type(), ObjectType::light);
    hand.typeNumber("strength", "900");
    hand.typeNumber("angle", "120");
    EXPECT_GT(bright(), before + 3);
    // Its height by its handle: the arrow up moves along Y; its cone by the one at the edge.
    Picture& view = hand.window().picture();
    const auto lamp = [&] { return *lampAt(hand.scene(), spot, 0, hand.document().store()); };
    EXPECT_NEAR(lamp().along.y, -1, 1e-6);
    ASSERT_TRUE(view.handlePlace("y"));
    hand.drag(&view, *view.handlePlace("y"), {0, -40});
    EXPECT_GT(lamp().position.y, 4.1);
    EXPECT_NEAR(lamp().position.x, 0, 1e-6);
    view.setHandleMode(handles::Mode::size);
    ASSERT_TRUE(view.handlePlace("angle"));
    EXPECT_TRUE(view.handlePlace("radius"));
    EXPECT_FALSE(view.handlePlace("reach")) << "it has none yet";
    const float before120 = lamp().cosineNone;
    hand.drag(&view, *view.handlePlace("angle"), {-60, 0});
    EXPECT_NE(lamp().cosineNone, before120);
    hand.typeNumber("reach", "3");
    ASSERT_TRUE(view.handlePlace("reach"));
    hand.drag(&view, *view.handlePlace("reach"), {0, 20});
    EXPECT_GT(lamp().reach, 3.1);
    view.setHandleMode(handles::Mode::move);
    // It is taken where it stands.
    hand.document().choose(hand.scene().project().id);
    hand.settle();
    hand.click(static_cast<QWidget*>(&view), view.view().project(lamp().position, view.size())->toPoint());
    EXPECT_EQ(hand.document().chosen(), spot);
    hand.turn("on");
    EXPECT_FALSE(lampAt(hand.scene(), spot, 0, hand.document().store()));
    EXPECT_NEAR(bright(), before, 1.5) << view.width();
}

TEST(LookWindow, SurroundingsTakeThePlaceOfTheSkyAndSaySo) {
    Dressing hand;
    const auto seen = [&] {
        hand.settle();
        QTest::qWait(600);
        return hand.window().picture().grab().toImage();
    };
    const QImage before = seen();
    hand.click("addThing");
    Hand::answerMenu("Surroundings");
    hand.click("add-light");
    const ObjectId around = hand.document().chosen();
    EXPECT_EQ(hand.scene().at(around).part("light").kind, &surroundingsLight);
    EXPECT_NE(hand.line().indexOf("Sky gives no light now"), -1) << hand.line().toStdString();
    EXPECT_EQ(settingAt(hand.scene(), 0, hand.document().store()).light.zenith, glm::vec3(0));
    EXPECT_NE(seen(), before);
    hand.choose("picture", "Morning sky");
    const QImage morning = seen();
    hand.typeNumber("around", "90");
    EXPECT_NE(seen(), morning) << "what is mirrored turns";
    // Its own file is asked for, and nothing is lost where there is none yet.
    hand.choose("picture", "From a file");
    EXPECT_TRUE(hand.eventually([&] { return hand.find<QWidget>("file") != nullptr; }));
    for (int step = 0; step < 6 && hand.scene().find(around); ++step) hand.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_FALSE(hand.scene().find(around));
    EXPECT_NE(settingAt(hand.scene(), 0, hand.document().store()).light.zenith, glm::vec3(0)) << "one undo brings the sky back too";
}

TEST(LookWindow, ALampsSizesAreDraggedByItsHandles) {
    Dressing hand;
    hand.click("addThing");
    Hand::answerMenu("Area light");
    hand.click("add-light");
    const ObjectId area = hand.document().chosen();
    Picture& picture = hand.window().picture();
    picture.setHandleMode(handles::Mode::size);
    ASSERT_TRUE(picture.handlePlace("width"));
    const QPointF from = *picture.handlePlace("width");
    const glm::vec3 place(1, 4, 0), half(0.5f, 0, 0);
    const QPointF to = *picture.view().project(place + half, picture.size());
    hand.drag(&picture, from, to - from);
    EXPECT_NEAR(numberAt(hand.scene(), hand.scene().at(area).part("light"), "width", 0), 3, 0.25) << "both sides move";
}

TEST(LookWindow, PicturesLieOnMaterialsAndTellWhyNot) {
    Dressing hand;
    Image stripes{4, 2, {}};
    for (int i = 0; i < 8; ++i) stripes.pixels.insert(stripes.pixels.end(), {std::uint8_t(i % 2 ? 255 : 0), 0, 0, 255});
    const std::filesystem::path folder = hand.document().folder();
    std::filesystem::create_directories(folder);
    writePng(stripes, folder / "stripes.png");
    std::ofstream(folder / "damaged.png") << "no picture";
    hand.turn("pictured");
    hand.settle();
    const auto type = [&](const QString& row, const QString& text) {
        auto* line = hand.find<QWidget>(row)->findChild<QLineEdit*>();
        ASSERT_NE(line, nullptr);
        line->setFocus();
        line->selectAll();
        QTest::keyClicks(line, text);
        QTest::keyClick(line, Qt::Key_Return);
        hand.settle();
    };
    const auto preview = [&](const QString& row) { return hand.find<QWidget>(row)->findChild<QLabel*>("picturePreview"); };
    type("colourPicture", "stripes.png");
    EXPECT_TRUE(hand.eventually([&] { return !preview("colourPicture")->pixmap().isNull(); }));
    const auto isShown = [&] {
        const QLabel* label = preview("colourPicture");
        hand.settle();
        return label->isVisible() && label->pixmap().size() == QSize(4, 2) && label->height() >= 2 &&
               label->mapTo(hand.find<QWidget>("colourPicture"), QPoint()).x() >= ParameterRow::labelWidth;
    };
    EXPECT_TRUE(isShown()) << "under the file's name";
    EXPECT_TRUE(hand.eventually([&] { return hand.result()->variants.front().look.pictures != nullptr; }));
    for (const char* name : {"gone.png", "damaged.png"}) {
        type("colourPicture", name);
        EXPECT_TRUE(hand.eventually([&] { return preview("colourPicture")->text().contains(name); })) << name;
        EXPECT_TRUE(hand.eventually([&] { return hand.result()->variants.front().look.pictures == nullptr; }));
        EXPECT_EQ(hand.result()->notes.size(), 1u);
    }
    hand.window().picture().setFocus();
    hand.key(Qt::Key_Z, Qt::ControlModifier);
    hand.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_TRUE(hand.eventually([&] { return hand.result()->variants.front().look.pictures != nullptr; })) << "undone";
    EXPECT_TRUE(hand.eventually(isShown)) << "after a sentence the picture is seen again";
}

TEST(LookWindow, AMixGoesAlongTheShape) {
    Dressing hand;
    hand.click("mixMaterial");
    hand.choose("by", "Along the shape");
    hand.choose("across", "Along X");
    const auto look = [&] { return hand.result()->variants.front().look; };
    ASSERT_TRUE(hand.eventually([&] { return look().mix && look().mix->by == MixedBy::across && look().mix->across == Across::x; }));
    LookedAt left, right;
    left.inBox.x = 0, right.inBox.x = 1;
    EXPECT_EQ(mixAt(*look().mix, left), 0);
    EXPECT_EQ(mixAt(*look().mix, right), 1);
}
