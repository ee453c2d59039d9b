// gilded-swarm-tour: opens a project in the real window and either plays one loop and keeps a picture of the window,
// or remakes the pictures of the documentation.
//   gilded-swarm-tour play PROJECT WINDOW.png
//   gilded-swarm-tour screenshots DEMO-FOLDER FOLDER
#include <functional>
#include <QApplication>
#include <QComboBox>
#include <QElapsedTimer>
#include <QLineEdit>
#include <QPainter>
#include <QPushButton>
#include <QStandardPaths>
#include <QTextStream>
#include <QThread>
#include <QToolButton>

#include "app/document/evaluation.h"
#include "app/picture/picture.h"
#include "app/picture/traced_view.h"
#include "app/rail/gallery.h"
#include "app/rail/rail.h"
#include "app/scene/picture_of.h"
#include "app/settings/settings.h"
#include "app/theme/theme.h"
#include "app/time/loop_panel.h"
#include "app/time/time_panel.h"
#include "app/tour/tour.h"
#include "app/window/main_window.h"
#include "core/explain/loop_check.h"
#include "core/flow/home_plan.h"
#include "core/scene/frame_range.h"

using namespace gswarm;

namespace {

int fail(const QString& sentence) {
    QTextStream(stderr) << "gilded-swarm-tour: " << sentence << '\n';
    return 1;
}

int playOneLoop(MainWindow& window, const QString& shot) {
    const FrameRange range = framesOf(window.document().scene());
    const double seconds = (range.last - range.first + 1) / momentAt(window.document().scene(), 0).rate;
    if (!tour::settle(window)) return fail("the picture never came");
    int pictures = 0;
    const auto counter = QObject::connect(&window.picture(), &Picture::shown, [&pictures] { ++pictures; });
    window.play().toggle();
    QElapsedTimer clock;
    clock.start();
    while (clock.elapsed() < seconds * 1000) QApplication::processEvents(QEventLoop::AllEvents, 10);
    window.play().stop();
    QObject::disconnect(counter);
    window.document().setFrame(std::round((range.first + range.last) * 0.5));
    QTextStream(stdout) << "Played one loop of " << seconds << " s in the window, " << pictures << " pictures.\n";
    return tour::shoot(window, shot) ? 0 : fail("the window's picture could not be written");
}

/// Goes on with the window until something is so; a minute at most.
void waitUntil(const std::function<bool()>& so) {
    for (int k = 0; k < 1200 && !so(); ++k) {
        QThread::msleep(50);
        QApplication::processEvents();
    }
}

/// The gallery of materials, once all its pictures are made.
bool shootMaterials(MainWindow& window, const QString& folder) {
    bool fine = tour::settle(window);
    auto* pick = window.settings().findChild<QPushButton*>("pickMaterial");
    if (!pick) return false;
    pick->click();
    auto* gallery = window.findChild<QWidget*>("materialGallery");
    const auto made = [gallery] {
        for (const QToolButton* tile : gallery->findChildren<QToolButton*>())
            if (tile->icon().pixmap(tilePicture).toImage().pixelColor(1, 1).alpha() == 0) return false;
        return true;
    };
    waitUntil(made);  // one after the other
    fine = gallery->grab().save(folder + "/materials.png") && fine;
    gallery->hide();
    return fine;
}

/// The traced picture beside the live one, after it was refined for a while.
bool shootLook(MainWindow& window, const QString& demos, const QString& folder) {
    bool fine = window.openFile(demos + "/grotto.gswarm");
    window.document().setFrame(30);
    window.picture().lookThroughCamera();
    fine = tour::settle(window) && fine;
    window.showWorkView("Look");
    TracedView& traced = window.picture().traced();
    for (int k = 0; k < 1200 && traced.state().samples < 48; ++k) {
        QThread::msleep(50);
        QApplication::processEvents();
    }
    traced.setDivider(0.74);
    fine = tour::settle(window) && fine;
    fine = tour::shoot(window, folder + "/look.png") && fine;
    window.showWorkView("Compose");
    return fine;
}

/// A sound, formations, stock, bodies and shapes, each from the demo project that shows it best.
bool shootFormations(MainWindow& window, const QString& demos, const QString& folder) {
    Document& document = window.document();
    const auto shoot = [&](const char* name) { return tour::shoot(window, folder + "/" + name + ".png"); };
    const auto open = [&](const char* demo) {
        const bool opened = window.openFile(demos + "/" + demo + ".gswarm");
        window.picture().lookThroughCamera();
        return opened && tour::settle(window);
    };
    bool fine = open("chorus");
    document.choose(document.scene().named(ObjectType::sound, "Song of the pipes"));
    document.setFrame(126);
    fine = shoot("sound") && fine;
    fine = open("urchin") && fine;
    document.choose(document.scene().at(document.swarm()).list("formations").front());
    fine = tour::settle(window) && fine;
    window.settings().pickFormation();
    fine = tour::settle(window) && fine;
    auto* picker = window.findChild<QWidget*>("formationPicker");
    for (int k = 0; k < 30; ++k) {  // counts come one by one
        QThread::msleep(50);
        QApplication::processEvents();
    }
    fine = picker->grab().save(folder + "/formations.png") && fine;
    picker->hide();
    fine = open("reef-sign") && fine;
    document.choose(document.scene().at(document.swarm()).list("stock").front());
    fine = shoot("stock") && fine;
    fine = open("reef-sign-swept") && fine;
    document.setFrame(64);
    document.choose(document.scene().named(ObjectType::force, "Eddies"));
    fine = shoot("bodies") && fine;
    fine = open("coral-bell") && fine;
    document.choose(document.scene().at(document.swarm()).list("stock").front());
    return shootMaterials(window, folder) && fine;
}

/// The instance of a swarm that stands highest, chosen.
void chooseHighest(MainWindow& window) {
    const ObjectId swarm = window.document().swarm();
    const auto result = window.evaluation().resultOf(swarm);
    std::uint32_t highest = 0;
    const auto height = [&](std::uint32_t row) { return result->columns->matrix[12 * static_cast<std::size_t>(row) + 7]; };
    for (std::uint32_t row = 0; row < static_cast<std::uint32_t>(result->count); ++row)
        if (height(row) > height(highest)) highest = row;
    window.document().session().chooseInstances(swarm, idsOfRows(result->home, {highest}));
}

/// Weaves, formulas, the ledger, the tally and nine values side by side.
bool shootHeart(MainWindow& window, const QString& demos, const QString& folder) {
    Document& document = window.document();
    Session& session = document.session();
    const auto shoot = [&](const char* name) { return tour::shoot(window, folder + "/" + name + ".png"); };
    const auto open = [&](const char* demo, double frame) {
        const bool opened = window.openFile(demos + "/" + demo + ".gswarm");
        document.setFrame(frame);
        window.picture().lookThroughCamera();
        return opened && tour::settle(window);
    };
    const auto gesture = [&](const char* name) { document.choose(document.scene().named(ObjectType::gesture, name)); };
    bool fine = open("sonar", 40);
    gesture("Cold light");
    window.settings().setSectionOpen("What changes", false);
    window.settings().setSectionOpen("Shaped how", true);
    fine = shoot("weave") && fine;
    window.settings().setSectionOpen("What changes", true);
    window.settings().setSectionOpen("Shaped how", false);
    gesture("Rings");
    fine = shoot("formula") && fine;
    fine = open("tidal-floor", 75) && fine;
    gesture("Lift");
    fine = tour::settle(window) && fine;
    chooseHighest(window);
    window.time().showLedger(true);
    fine = shoot("ledger") && fine;
    window.time().showLedger(false);
    session.tally(session.instances().ids.front());
    fine = shoot("tally") && fine;
    session.tally(std::nullopt);
    fine = open("shoal", 40) && fine;
    gesture("Currents");
    document.vary(addressOf(document.scene(), document.chosen(), "pattern-size"));
    fine = shoot("variations") && fine;
    session.stopVarying();
    return fine;
}

/// Curves of keys, and the loop check with something to mend.
bool shootTime(MainWindow& window, const QString& demos, const QString& folder) {
    Document& document = window.document();
    bool fine = window.openFile(demos + "/kelp.gswarm");
    document.setFrame(52);
    window.picture().lookThroughCamera();
    const ObjectId sway = document.scene().named(ObjectType::gesture, "Sway");
    document.choose(sway);
    window.settings().setSectionOpen("What changes", false);
    window.settings().setSectionOpen("Driven by", false);
    window.time().showCurves(true);
    for (int k = 0; k < 60 && window.evaluation().readyFrames().empty(); ++k) fine = tour::settle(window) && fine;
    fine = tour::shoot(window, folder + "/curves.png") && fine;
    window.time().showCurves(false);
    fine = window.openFile(demos + "/tidal-floor.gswarm") && fine;
    document.setFrame(75);
    const ObjectId murmur = document.scene().named(ObjectType::gesture, "Murmur");
    document.choose(murmur);
    document.setValue(addressOf(document.scene(), murmur, "pattern-motion"), std::string("speed"));
    window.findChild<QToolButton*>("loopRing")->click();
    for (int k = 0; k < 200 && !window.evaluation().loop(); ++k) {
        QThread::msleep(50);
        QApplication::processEvents();
    }
    fine = tour::settle(window) && fine;
    QPixmap picture = window.grab();
    auto* panel = window.findChild<LoopPanel*>();
    QPainter(&picture).drawPixmap(window.mapFromGlobal(panel->mapToGlobal(QPoint(0, 0))), panel->grab());
    panel->hide();
    window.settings().setSectionOpen("What changes", true);
    window.settings().setSectionOpen("Driven by", true);
    return picture.save(folder + "/loop.png") && fine;
}

int screenshots(MainWindow& window, const QString& demos, const QString& folder) {
    if (!window.openFile(demos + "/tidal-floor.gswarm")) return fail("the project can't be opened");
    Document& document = window.document();
    const auto shoot = [&](const char* name) { return tour::shoot(window, folder + "/" + name + ".png"); };
    bool fine = true;
    const auto gesture = [&](const char* name) { return document.scene().named(ObjectType::gesture, name); };
    document.setFrame(75);
    document.choose(gesture("Lift"));
    fine = shoot("compose") && fine;
    document.choose(document.scene().named(ObjectType::zone, "Swell"));
    window.picture().setHandleMode(handles::Mode::size);
    fine = shoot("zone") && fine;
    window.picture().setHandleMode(handles::Mode::move);
    window.rail().openGallery();
    fine = tour::settle(window) && fine;
    auto* gallery = window.findChild<Gallery*>("gallery");
    waitUntil([gallery] { return gallery->pictured(); });
    fine = gallery->grab().save(folder + "/gallery.png") && fine;
    gallery->hide();
    window.showWorkView("Export");
    fine = shoot("export") && fine;
    window.showWorkView("Compose");
    fine = shootLook(window, demos, folder) && fine;
    fine = shootFormations(window, demos, folder) && fine;
    fine = shootHeart(window, demos, folder) && fine;
    fine = shootTime(window, demos, folder) && fine;
    document.newProject();
    fine = tour::settle(window) && fine;
    window.findChild<QPushButton*>("newSwarm")->click();
    window.rail().openGallery();
    window.findChild<QPushButton*>("gesture-wave")->click();
    window.findChild<QPushButton*>("addZone-box")->click();
    fine = shoot("first-swarm") && fine;
    return fine ? 0 : fail("a picture could not be made");
}

}  // namespace

int main(int argc, char** argv) {
    QApplication application(argc, argv);
    QStandardPaths::setTestModeEnabled(true);  // the tour leaves the user's own settings alone
    QApplication::setOrganizationName("gilded-swarm");
    QApplication::setApplicationName("gilded-swarm-tour");
    theme::apply(application);
    const QStringList arguments = QApplication::arguments();
    if (arguments.size() != 4) return fail("play PROJECT WINDOW.png, or screenshots PROJECT FOLDER");
    MainWindow window;
    window.resize(1280, 800);
    window.show();
    if (arguments[1] == "screenshots") return screenshots(window, arguments[2], arguments[3]);
    return window.openFile(arguments[2]) ? playOneLoop(window, arguments[3]) : fail("the project can't be opened");
}
