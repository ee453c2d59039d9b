#include "app/window/main_window.h"

#include <algorithm>
#include <QApplication>
#include <QCloseEvent>
#include <QComboBox>
#include <QDir>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QSettings>
#include <QSplitter>
#include <QStackedWidget>
#include <QTextEdit>
#include <QToolButton>

#include "app/document/application.h"
#include "app/document/importing.h"
#include "app/export/export_kinds.h"
#include "app/export/export_leftovers.h"
#include "app/export/export_panel.h"
#include "app/export/export_queue.h"
#include "app/export/export_queue_panel.h"
#include "app/fields/number_field.h"
#include "app/help/help_panel.h"
#include "app/look/look_line.h"
#include "app/look/material_tray.h"
#include "app/picture/picture.h"
#include "app/picture/traced_view.h"
#include "app/rail/rail.h"
#include "app/scene/scene_list.h"
#include "app/scene/scene_panel.h"
#include "app/settings/settings.h"
#include "app/sound/sound_player.h"
#include "app/theme/file_dialog.h"
#include "app/theme/theme.h"
#include "app/time/time_panel.h"
#include "app/window/greeting.h"
#include "app/window/line.h"
#include "app/window/recent.h"
#include "app/window/shortcuts.h"
#include "core/base/error.h"
#include "core/file/project_file.h"
#include "core/resolve/references.h"

using namespace gswarm;

namespace {

constexpr int timeCollapsed = 56, queueHeight = 116;

QWidget* filled(QWidget* widget, const QColor& colour) {
    widget->setAutoFillBackground(true);
    widget->setAttribute(Qt::WA_StyledBackground);
    widget->setStyleSheet(QString("#%1 { background: %2; }").arg(widget->objectName(), colour.name()));
    return widget;
}

}  // namespace

MainWindow::MainWindow() {
    resize(1280, 800);
    setMinimumSize(960, 600);
    setWindowTitle("Gilded Swarm");
    evaluation_ = std::make_unique<Evaluation>(document_, nullptr);
    sound_ = std::make_unique<SoundPlayer>(document_, evaluation_->evaluator().store(), nullptr);
    play_ = std::make_unique<Play>(document_, *evaluation_, *sound_, nullptr);
    autosave_ = std::make_unique<Autosave>(document_, nullptr);
    compose();
    buildCommands();
    for (const auto signal : {&Document::sceneChanged, &Document::fileChanged})
        connect(&document_, signal, this, &MainWindow::refreshTitle);
    connect(&document_, &Document::sceneChanged, this, &MainWindow::refreshGreeting);
    connect(&document_, &Document::trouble, this, &MainWindow::tell);
    connect(evaluation_.get(), &Evaluation::trouble, this, [this](const QString& sentence) {
        if (!sentence.isEmpty()) tell(sentence);
    });
    connect(settings_, &Settings::trouble, this, &MainWindow::tell);
    connect(&document_, &Document::told, line_, &Line::say);
    connect(&document_, &Document::fileChanged, this, [this] {
        if (!document_.path().empty()) recent::remember(QString::fromStdString(document_.path().string()));
    });
    setAcceptDrops(true);
    left_->list().setFocus();
    if (auto* application = Application::instance())
        connect(application, &Application::faultTold, this, [this](const QString& sentence) {
            tell(sentence);
            renewOnce();
        });
    connect(rail_, &Rail::renameAsked, this, [this] { left_->list().rename(); });
    connect(&left_->list(), &SceneList::menuAsked, this, [this](ObjectId, const QPoint& at) { showThings(at); });
    connect(picture_, &Picture::menuAsked, this, &MainWindow::showThings);
    connect(settings_, &Settings::helpAsked, this, &MainWindow::helpFor);
    QSettings preferences;
    restoreGeometry(preferences.value("geometry").toByteArray());
    resetPanels();
    across_->restoreState(preferences.value("across").toByteArray());
    timeHeight_ = preferences.value("timeHeight", timeHeight_).toInt();
    middle_->restoreState(preferences.value("middle").toByteArray());
    refreshTitle();
    refreshGreeting();
    QApplication::instance()->installEventFilter(this);
}

MainWindow::~MainWindow() {
    // The panels listen to these; they must be gone before the document is.
    delete takeCentralWidget();
    delete exportQueue_;
    autosave_.reset();
    play_.reset();
    sound_.reset();
    evaluation_.reset();
}

// ---- building

void MainWindow::compose() {
    auto* whole = new QWidget(this);
    whole->setObjectName("whole");
    auto* column = new QVBoxLayout(filled(whole, theme::ink));
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    auto* top = new QWidget(whole);
    top->setObjectName("top");
    buildTop(filled(top, theme::panel));
    column->addWidget(top);
    rail_ = new Rail(document_, *evaluation_, whole);
    column->addWidget(rail_);
    tray_ = new MaterialTray(document_, whole);
    tray_->hide();
    column->addWidget(tray_);

    across_ = new QSplitter(Qt::Horizontal, whole);
    upDown_ = new QSplitter(Qt::Vertical, across_);
    middle_ = new QSplitter(Qt::Horizontal, upDown_);
    leftSide_ = new QStackedWidget(middle_);
    left_ = new ScenePanel(document_, leftSide_);
    exportKinds_ = new ExportKinds(leftSide_);
    leftSide_->addWidget(left_);
    leftSide_->addWidget(exportKinds_);
    connect(left_, &ScenePanel::cameraAsked, this, &MainWindow::addCameraHere);
    left_->setObjectName("left");
    filled(left_, theme::panel);
    stage_ = new QStackedWidget(middle_);
    picture_ = new Picture(document_, *evaluation_, stage_);
    greeting_ = new Greeting(stage_);
    stage_->addWidget(picture_);
    stage_->addWidget(greeting_);
    line_ = new Line(stage_);
    connect(stage_, &QStackedWidget::currentChanged, line_, &QWidget::raise);
    help_ = new HelpPanel(middle_);
    filled(help_, theme::panel);
    help_->setMinimumWidth(260);
    help_->hide();
    middle_->setCollapsible(2, false);
    connect(help_, &HelpPanel::closed, help_, &QWidget::hide);
    middle_->setStretchFactor(1, 1);
    time_ = new TimePanel(document_, *evaluation_, *play_, *sound_, upDown_);
    filled(time_, theme::panel);
    lookLine_ = new LookLine(document_, picture_->traced(), time_);
    lookLine_->hide();
    connect(&picture_->traced(), &TracedView::trouble, this, &MainWindow::tell);
    connect(picture_, &Picture::shown, this, [this] { time_->setViewNote(picture_->leftOutWhileMoving()); });
    connect(time_, &TimePanel::roomWanted, this, &MainWindow::sizeTime);
    connect(upDown_, &QSplitter::splitterMoved, this, [this] {
        if (time_->heightWanted() == 0 && compose_->isChecked()) timeHeight_ = time_->height();
    });
    exportQueue_ = new ExportQueue(autosave_->beside(".exports"), this);
    exportQueuePanel_ = new ExportQueuePanel(*exportQueue_, upDown_);
    filled(exportQueuePanel_, theme::panel);
    exportQueuePanel_->hide();
    upDown_->setStretchFactor(0, 1);
    right_ = new QStackedWidget(across_);
    right_->setObjectName("right");
    filled(right_, theme::panel);
    settings_ = new Settings(document_, *evaluation_, right_);
    exportPanel_ = new ExportPanel(document_, *exportKinds_, *exportQueue_, right_);
    exportPanel_->setPicture([this] { return picture_->grab().toImage().scaledToWidth(120, Qt::SmoothTransformation); });
    right_->addWidget(settings_);
    right_->addWidget(exportPanel_);
    right_->setMinimumWidth(304);
    across_->setStretchFactor(0, 1);
    for (auto* splitter : {across_, middle_, upDown_}) splitter->setHandleWidth(3);
    column->addWidget(across_, 1);
    setCentralWidget(whole);
    finder_ = new Finder(this);
    connect(greeting_, &Greeting::newSwarm, this, &MainWindow::newSwarm);
    connect(greeting_, &Greeting::openAsked, this, &MainWindow::askOpen);
    connect(greeting_, &Greeting::walkAsked, this, &MainWindow::startWalk);
    connect(greeting_, &Greeting::demoAsked, this, [this](const QString& path) { openFile(path); });
}

void MainWindow::buildTop(QWidget* bar) {
    bar->setFixedHeight(32);
    auto* row = new QHBoxLayout(bar);
    row->setContentsMargins(10, 2, 8, 2);
    row->setSpacing(4);
    title_ = new QPushButton(bar);
    title_->setObjectName("title");
    title_->setFont(theme::text(13, QFont::Medium));
    title_->setToolTip("New, open, save, import, export, preferences, help");
    title_->setStyleSheet(
        "QPushButton { background: transparent; border: 1px solid transparent; text-align: left; padding: 0 18px 0 6px; } "
        "QPushButton:hover { background: #29241d; } QPushButton:focus { border-color: #d9a441; } QPushButton::menu-indicator { image: "
        "url(:/icons/down.svg); width: 8px; height: 8px; subcontrol-origin: padding; subcontrol-position: center right; right: 4px; }");
    connect(title_, &QPushButton::clicked, this, &MainWindow::showProjectMenu);
    const auto tool = [&](const char* name, const QString& tip) {
        auto* button = new QToolButton(bar);
        button->setIcon(theme::icon(name));
        button->setToolTip(tip);
        button->setAccessibleName(tip);
        return button;
    };
    undo_ = tool("undo", "Undo");
    redo_ = tool("redo", "Redo");
    connect(undo_, &QToolButton::clicked, &document_, &Document::undo);
    connect(redo_, &QToolButton::clicked, &document_, &Document::redo);
    const auto view = [&](const QString& name) {
        auto* button = new QPushButton(name, bar);
        button->setObjectName("view" + name);
        button->setCheckable(true);
        button->setStyleSheet(
            "QPushButton { background: transparent; border: none; border-bottom: 2px solid transparent; border-radius: 0; padding: 0 12px; "
            "} QPushButton:checked { border-bottom-color: #d9a441; } QPushButton:focus { color: #d9a441; }");
        connect(button, &QPushButton::clicked, this, [this, name] { showWorkView(name); });
        return button;
    };
    compose_ = view("Compose");
    look_ = view("Look");
    export_ = view("Export");
    compose_->setChecked(true);
    find_ = new QPushButton("find or do anything   Ctrl+K", bar);
    find_->setObjectName("find");
    find_->setIcon(theme::icon("search", theme::quiet));
    find_->setStyleSheet("QPushButton { color: #a3967f; text-align: left; background: #15120e; }");
    find_->setFixedWidth(230);
    connect(find_, &QPushButton::clicked, this, &MainWindow::openFinder);
    row->addWidget(title_);
    row->addSpacing(8);
    row->addWidget(undo_);
    row->addWidget(redo_);
    row->addStretch(1);
    for (QPushButton* button : {compose_, look_, export_}) row->addWidget(button);
    row->addStretch(1);
    row->addWidget(find_);
}

// ---- what the window says

void MainWindow::refreshTitle() {
    const QString name = document_.path().empty() ? "untitled" : QString::fromStdString(document_.path().stem().string());
    const bool saved = document_.saved();
    title_->setText(QString(name).replace("&", "&&") + (saved ? (document_.path().empty() ? "" : "  ·  saved") : "  ·  not saved"));
    setWindowTitle(name + (saved ? "" : " *") + " – Gilded Swarm");
    const auto& history = document_.history();
    undo_->setEnabled(history.canUndo());
    redo_->setEnabled(history.canRedo());
    undo_->setToolTip(history.canUndo() ? "Undo: " + QString::fromStdString(history.undoLabel()) + " (Ctrl+Z)" : "Nothing to undo");
    redo_->setToolTip(history.canRedo() ? "Redo: " + QString::fromStdString(history.redoLabel()) + " (Ctrl+Shift+Z)" : "Nothing to redo");
}

void MainWindow::refreshGreeting() {
    const bool empty = document_.scene().all(ObjectType::swarm).empty();
    stage_->setCurrentWidget(empty ? static_cast<QWidget*>(greeting_) : picture_);
    const bool looking = look_->isChecked();
    rail_->setVisible(!empty && !looking);
    tray_->setVisible(!empty && looking);
    if (time_->isHidden() == empty) return;
    time_->setVisible(!empty);
    sizeTime();
}

void MainWindow::resetPanels() {
    for (QWidget* panel : {static_cast<QWidget*>(leftSide_), static_cast<QWidget*>(right_), static_cast<QWidget*>(time_)}) panel->show();
    across_->setSizes({std::max(width() - 304, 400), 304});
    middle_->setSizes({200, std::max(width() - 504, 200)});
    timeHeight_ = 172;
    refreshGreeting();
    sizeTime();
}

/// The time panel as high as the hand left it; ledger and curves need more.
void MainWindow::sizeTime() {
    if (!upDown_) return;
    const bool exporting = export_->isChecked();
    const int wanted = look_->isChecked() || exporting ? timeCollapsed : timeHeight_;
    const int time = std::clamp(std::max(time_->heightWanted(), wanted), timeCollapsed, 420);
    const int queue = exporting ? queueHeight : 0;
    upDown_->setSizes({std::max(upDown_->height() - time - queue, 160), time, queue});
}

void MainWindow::tell(const QString& sentence) { line_->tell(sentence); }

/// A fault may have left panels half renewed: they are told everything again, but not again and again.
void MainWindow::renewOnce() {
    if (renewed_.isValid() && renewed_.elapsed() < 1000) return;
    renewed_.start();
    document_.renew();
}

void MainWindow::showWorkView(const QString& view) {
    const bool exporting = view == "Export", looking = view == "Look";
    compose_->setChecked(!exporting && !looking);
    look_->setChecked(looking);
    export_->setChecked(exporting);
    right_->setCurrentWidget(exporting ? static_cast<QWidget*>(exportPanel_) : settings_);
    right_->show();
    leftSide_->setCurrentWidget(exporting ? static_cast<QWidget*>(exportKinds_) : left_);
    if (exporting) leftSide_->show();
    exportQueuePanel_->setVisible(exporting);
    picture_->traced().setShown(looking);
    picture_->setFramed(exporting);
    time_->setAside(looking ? lookLine_ : nullptr);
    refreshGreeting();
    sizeTime();
}

// ---- commands

void MainWindow::openFinder() {
    finder_->open(findable(), find_->mapToGlobal(QPoint(find_->width() - finder_->width(), find_->height() + 2)));
}

void MainWindow::newSwarm() {
    const ObjectId made = document_.edit([](const Scene& s) { return addSwarm(s); });
    if (made) document_.choose(made);
}

bool MainWindow::openFile(const QString& path) { return document_.open(path.toStdString()); }

void MainWindow::saveCopy() {
    const QString name = document_.path().empty() ? "untitled" : QString::fromStdString(document_.path().stem().string());
    QString path = file_dialog::save(this, "Save a copy with all its files", name + ".gswarm", "Gilded Swarm projects (*.gswarm)");
    if (path.isEmpty()) return;
    if (!path.endsWith(".gswarm")) path += ".gswarm";
    document_.saveCopy(path.toStdString());
}

void MainWindow::askImport() {
    const QString folder = document_.path().empty() ? QDir::homePath() : QString::fromStdString(document_.folder().string());
    takeFiles(file_dialog::openSeveral(this, "Import", folder, importing::filter()));
}

void MainWindow::askOpen() {
    leaveProject([this] {
        const QString path = file_dialog::open(this, "Open", demoFolder(), "Gilded Swarm projects (*.gswarm)");
        if (!path.isEmpty()) openFile(path);
    });
}

bool MainWindow::save() { return document_.path().empty() ? saveAs() : document_.save(document_.path()); }

bool MainWindow::saveAs() {
    const std::string now = document_.path().empty() ? "untitled.gswarm" : document_.path().string();
    QString path = file_dialog::save(this, "Save as", QString::fromStdString(now), "Gilded Swarm projects (*.gswarm)");
    if (path.isEmpty()) return false;
    if (!path.endsWith(".gswarm")) path += ".gswarm";
    return document_.save(path.toStdString());
}

void MainWindow::leaveProject(const std::function<void()>& goOn) {
    if (document_.saved()) return goOn();
    const auto saveFirst = [this, goOn] {
        if (save()) goOn();
    };
    line_->ask("This project has changes that are not saved.", {{"Save", saveFirst}, {"Discard changes", goOn}, {"Cancel", {}}});
}

void MainWindow::leaveExports(const std::function<void()>& goOn) {
    const int left = exportQueue_->unfinished();
    if (left == 0) return goOn();
    const auto drop = [this, goOn] {
        exportQueue_->removeUnfinished();
        goOn();
    };
    line_->ask(theme::counted(left, "export") + (left == 1 ? " has" : " have") + " not ended. What is written so far stays.",
               {{"Leave, and go on next time", goOn}, {"Leave, and drop them", drop}, {"Cancel", {}}});
}

void MainWindow::offerRecovery() {
    std::vector<ExportJob> jobs;
    for (const auto& folder : Autosave::leftBeside(".exports"))
        for (ExportJob& job : export_leftovers::take(folder)) jobs.push_back(std::move(job));
    if (!jobs.empty())
        line_->say("An earlier run left " + theme::counted(static_cast<qint64>(jobs.size()), "export") +
                   " unfinished: Export (F7) lists what can go on.");
    exportQueue_->addLeft(std::move(jobs));
    offerRecovery(Autosave::find(), 0);
}

/// One copy after the other, the newest first.
void MainWindow::offerRecovery(const std::vector<Autosave::Found>& copies, std::size_t which) {
    if (which >= copies.size()) return;
    const Autosave::Found& found = copies[which];
    const QString name =
        found.project.empty() ? QString("an unsaved project") : "“" + QString::fromStdString(found.project.filename().string()) + "”";
    const QString of = copies.size() > 1 ? QString(" (%1 of %2)").arg(which + 1).arg(copies.size()) : QString();
    std::vector<Line::Answer> answers = {{"Recover", [this, found] { recover(found); }},
                                         {"Delete recovered changes", [this, copies, which] {
                                              Autosave::discard(copies[which]);
                                              offerRecovery(copies, which + 1);
                                          }}};
    answers.push_back(which + 1 < copies.size() ? Line::Answer{"Next", [this, copies, which] { offerRecovery(copies, which + 1); }}
                                                : Line::Answer{"Later", {}});
    line_->ask("The program ended without saving " + name + ". Its changes until " + found.when + " were kept" + of + ".", answers);
}

void MainWindow::recover(const Autosave::Found& found) {
    try {
        Scene scene = loadProject(found.copy);
        if (found.project.empty()) autosave_->adoptFiles(found);
        document_.adopt(std::move(scene), found.project);
        Autosave::discard(found);
    } catch (const Error& error) {
        tell(error.what());
    }
}

/// Escape leaves choosing and linking wherever the focus is. While C is held the kept version is seen.
bool MainWindow::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() != QEvent::KeyPress && event->type() != QEvent::KeyRelease) return QMainWindow::eventFilter(watched, event);
    auto* key = static_cast<QKeyEvent*>(event);
    if (key->key() == Qt::Key_Escape && (document_.picking() || document_.linking()) && !QApplication::activeModalWidget()) {
        if (event->type() != QEvent::KeyPress) return true;
        document_.cancelPick();
        document_.cancelLink();
        return true;
    }
    const auto* focus = QApplication::focusWidget();
    const bool writing =
        qobject_cast<const QLineEdit*>(focus) || qobject_cast<const QPlainTextEdit*>(focus) || qobject_cast<const QComboBox*>(focus);
    if (key->key() != Qt::Key_C || key->modifiers() != Qt::NoModifier || writing) return QMainWindow::eventFilter(watched, event);
    Session& session = document_.session();
    if (!session.hasKept()) {
        if (event->type() == QEvent::KeyPress && !key->isAutoRepeat())
            tell("No version is kept yet: Shift+C keeps this one, then C shows it while it is held.");
    } else if (!key->isAutoRepeat()) {
        session.compare(event->type() == QEvent::KeyPress);
    }
    return true;
}

void MainWindow::closeEvent(QCloseEvent* event) {
    if (!closing_ && (!document_.saved() || exportQueue_->unfinished() > 0)) {
        event->ignore();
        leaveProject([this] {
            leaveExports([this] {
                closing_ = true;
                close();
            });
        });
        return;
    }
    QSettings preferences;
    preferences.setValue("geometry", saveGeometry());
    preferences.setValue("across", across_->saveState());
    preferences.setValue("timeHeight", timeHeight_);
    preferences.setValue("middle", middle_->saveState());
    event->accept();
}

void MainWindow::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape) {
        document_.session().stopVarying();
        line_->dismiss();
        const auto by = document_.swarm() ? swarmsRepeating(document_.scene(), document_.swarm()) : std::vector<ObjectId>{};
        if (!by.empty()) document_.click(by.front());
    }
    if (shortcuts_->press(QKeySequence(event->keyCombination()))) return;
    QMainWindow::keyPressEvent(event);
}
