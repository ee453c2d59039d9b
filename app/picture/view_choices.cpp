#include "app/picture/view_choices.h"

#include <QHBoxLayout>
#include <QMenu>
#include <QToolButton>

#include "app/document/document.h"
#include "app/theme/theme.h"

ViewChoices::ViewChoices(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("viewChoices");
    setAttribute(Qt::WA_StyledBackground);
    setStyleSheet("#viewChoices { background: #1e1a15; border-radius: 4px; }");
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(2, 2, 2, 2);
    row->setSpacing(2);
    addHandles(*row);
    row->addSpacing(8);
    addCamera(*row);
    row->addSpacing(8);
    weights_ = addSwitch(*row, "weights", "Weights of the chosen gesture as colour", false);
    numbers_ = addSwitch(*row, "numbers", "Numbers of the instances", false);
    zones_ = addSwitch(*row, "zones", "Zones of the chosen gesture, drawn where they act", true);
    ground_ = addSwitch(*row, "ground", "Ground", true);
    frame_ = addSwitch(*row, "frame", "Output frame", false);
    safe_ = addSwitch(*row, "safe-areas", "Safe areas: what every screen shows of action and of writing", false);
    addGhosts(*row);
    addRehearsal(*row);
}

QToolButton* ViewChoices::addButton(QHBoxLayout& row, const char* icon, const QString& name, const QString& tip) {
    auto* button = new QToolButton(this);
    button->setObjectName(name);
    button->setIcon(theme::icon(icon));
    button->setToolTip(tip);
    button->setAccessibleName(tip);
    button->setFixedSize(26, 26);
    row.addWidget(button);
    return button;
}

QToolButton* ViewChoices::addSwitch(QHBoxLayout& row, const char* icon, const QString& tip, bool on) {
    QToolButton* button = addButton(row, icon, QString("view-%1").arg(icon), tip);
    button->setCheckable(true);
    button->setChecked(on);
    connect(button, &QToolButton::toggled, this, &ViewChoices::changed);
    return button;
}

void ViewChoices::addHandles(QHBoxLayout& row) {
    struct Choice {
        const char *icon, *name, *tip;
    };
    constexpr Choice choices[] = {{"position", "handles-move", "Handles that move (1)"},
                                  {"rotation", "handles-turn", "Handles that turn (2)"},
                                  {"scale", "handles-size", "Handles that size (3)"}};
    for (std::size_t k = 0; k < handles_.size(); ++k) {
        handles_[k] = addButton(row, choices[k].icon, choices[k].name, choices[k].tip);
        handles_[k]->setCheckable(true);
        handles_[k]->setAutoExclusive(true);
        connect(handles_[k], &QToolButton::clicked, this, [this, k] { setHandleMode(static_cast<handles::Mode>(k)); });
    }
    handles_.front()->setChecked(true);
}

void ViewChoices::addCamera(QHBoxLayout& row) {
    const auto* look = addButton(row, "view-from-camera", "lookThroughCamera", "View to camera: look through the camera (Ctrl+Shift+C)");
    connect(look, &QToolButton::clicked, this, &ViewChoices::lookThroughAsked);
    const auto* put = addButton(row, "camera-from-view", "cameraFromView", "Camera to view: put the camera where the view is");
    connect(put, &QToolButton::clicked, this, &ViewChoices::cameraFromViewAsked);
    hold_ = addButton(row, "hold", "holdCamera", "Hold the camera: the view looks through it at every frame, and moving the view moves it");
    hold_->setCheckable(true);
    connect(hold_, &QToolButton::toggled, this, &ViewChoices::changed);
}

void ViewChoices::addGhosts(QHBoxLayout& row) {
    QToolButton* button = addButton(row, "ghosts", "view-ghosts", "Ghosts of the frames before and after (G)");
    button->setCheckable(true);
    button->setPopupMode(QToolButton::MenuButtonPopup);
    button->setAccessibleName("Ghosts");
    button->setFixedSize(42, 26);
    auto* menu = new QMenu(button);
    const Session::Ghosts choices[] = {{true, 2, 2, 5}, {true, 4, 4, 5}, {true, 2, 2, 12}, {true, 6, 0, 3}, {true, 0, 6, 3}};
    for (const auto& ghosts : choices)
        menu->addAction(QString("%1 before, %2 after, every %3 frames").arg(ghosts.before).arg(ghosts.after).arg(ghosts.step), this,
                        [this, ghosts] { document_.session().setGhosts(ghosts); });
    button->setMenu(menu);
    connect(button, &QToolButton::clicked, this, [this](bool on) {
        Session::Ghosts ghosts = document_.session().ghosts();
        ghosts.on = on;
        document_.session().setGhosts(ghosts);
    });
    connect(&document_.session(), &Session::viewChanged, button, [this, button] { button->setChecked(document_.session().ghosts().on); });
}

void ViewChoices::addRehearsal(QHBoxLayout& row) {
    auto* button = new QToolButton(this);
    button->setObjectName("view-rehearsal");
    button->setText("all");
    button->setFont(theme::numbers(11));
    button->setPopupMode(QToolButton::InstantPopup);
    button->setToolTip("Rehearsal: work on a share of a heavy swarm; exports always make all of it");
    button->setAccessibleName("Rehearsal");
    button->setFixedSize(48, 26);
    row.addWidget(button);
    auto* menu = new QMenu(button);
    for (int share = 1; share <= 64; share *= 2)
        menu->addAction(share == 1 ? QString("All instances") : QString("One of %1").arg(share), this,
                        [this, share] { document_.session().setRehearsal(share); });
    menu->addSeparator();
    QAction* light = menu->addAction("Light stand-ins of stock", this, [this](bool on) { document_.session().setLight(on); });
    light->setCheckable(true);
    button->setMenu(menu);
    connect(&document_.session(), &Session::viewChanged, button, [this, button, light] {
        const int share = document_.session().rehearsal();
        light->setChecked(document_.session().light());
        button->setText(share > 1 ? QString("1/%1").arg(share) : document_.session().light() ? "light" : "all");
    });
}

void ViewChoices::setHandleMode(handles::Mode mode) {
    mode_ = mode;
    handles_[static_cast<std::size_t>(mode)]->setChecked(true);
    emit changed();
}

bool ViewChoices::zones() const { return zones_->isChecked(); }
bool ViewChoices::ground() const { return ground_->isChecked(); }
bool ViewChoices::holdsCamera() const { return hold_->isChecked(); }
bool ViewChoices::frame() const { return frame_->isChecked(); }
bool ViewChoices::safeAreas() const { return safe_->isChecked(); }
