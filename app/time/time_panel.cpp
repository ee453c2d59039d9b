#include "app/time/time_panel.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QScrollArea>
#include <QScrollBar>
#include <QToolButton>

#include "app/document/evaluation.h"
#include "app/ledger/ledger_panel.h"
#include "app/sound/sound_player.h"
#include "app/sound/sound_waves.h"
#include "app/theme/theme.h"
#include "app/time/curve_view.h"
#include "app/time/loop_panel.h"
#include "app/time/play.h"
#include "app/time/time_rows.h"
#include "core/explain/loop_check.h"
#include "core/scene/frame_range.h"

using namespace gswarm;

TimePanel::TimePanel(Document& document, Evaluation& evaluation, Play& play, SoundPlayer& sound, QWidget* parent)
    : QWidget(parent),
      document_(document),
      evaluation_(evaluation),
      play_(play),
      sound_(sound),
      waves_(new SoundWaves(document, evaluation.evaluator().store(), this)) {
    setObjectName("timePanel");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    transport_ = new QHBoxLayout;
    QHBoxLayout* transport = transport_;
    transport->setContentsMargins(8, 2, 10, 2);
    transport->setSpacing(2);
    auto* first = button("first", "To the first frame (Home)");
    auto* back = button("previous", "One frame back (,)");
    play_button_ = button("play", "Play or stop (Space)");
    play_button_->setObjectName("play");
    auto* next = button("next", "One frame on (.)");
    auto* last = button("last", "To the last frame (End)");
    for (auto* b : {first, back, play_button_, next, last}) transport->addWidget(b);
    mode_ = button("play-loop", "");
    mode_->setObjectName("playMode");
    record_ = button("record", "Record: a setting that is changed gets a key at the playhead, also while playing (R)");
    record_->setObjectName("record");
    record_->setCheckable(true);
    speaker_ = button("speaker", "");
    speaker_->setObjectName("speaker");
    speaker_->setCheckable(true);
    for (auto* b : {mode_, record_, speaker_}) transport->addWidget(b);
    range_ = new QLabel(this);
    range_->setFont(theme::numbers(11));
    range_->setStyleSheet("color: #a3967f; padding-left: 10px;");
    transport->addWidget(range_);
    speed_ = new QLabel(this);
    speed_->setObjectName("speed");
    speed_->setFont(theme::numbers(11));
    speed_->setStyleSheet("color: #a3967f; padding-right: 6px;");
    speed_->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    speed_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);  // what it says never widens the window
    transport->addWidget(speed_, 1);
    ring_ = button("loop-unknown", "The loop: closed or broken ring; a click tells why and offers mends");
    ring_->setObjectName("loopRing");
    transport->addWidget(ring_);
    curvesButton_ = button("curves", "Curves of what is chosen, in place of the rows");
    curvesButton_->setObjectName("showCurves");
    curvesButton_->setCheckable(true);
    transport->addWidget(curvesButton_);
    list_ = button("ledger", "Ledger: a table of every value of every instance, in place of the rows (L)");
    list_->setObjectName("showLedger");
    list_->setCheckable(true);
    transport->addWidget(list_);
    project_ = button("project", "Settings of the project: frame rate, range, loop, background");
    transport->addWidget(project_);
    column->addLayout(transport);
    scroll_ = new QScrollArea(this);
    scroll_->setFocusPolicy(Qt::NoFocus);
    scroll_->setWidgetResizable(true);
    scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    rows_ = new TimeRows(document, *waves_, this);
    scroll_->setWidget(rows_);
    column->addWidget(scroll_, 1);
    ledger_ = new LedgerPanel(document, evaluation, this);
    ledger_->hide();
    column->addWidget(ledger_, 1);
    curves_ = new CurveView(document, *rows_, this);
    curves_->hide();
    column->addWidget(curves_, 1);
    loop_ = new LoopPanel(document, evaluation, this);
    connect(list_, &QToolButton::toggled, this, &TimePanel::showLedger);
    connect(curvesButton_, &QToolButton::toggled, this, [this](bool on) { showCurves(on); });
    connect(rows_, &TimeRows::curvesAsked, this, [this](ObjectId object) { showCurves(true, object); });
    connect(&document_, &Document::chosenChanged, this, [this] {
        if (curves_->isVisible()) curves_->show(document_.chosen());
    });
    connect(mode_, &QToolButton::clicked, this,
            [this] { play_.setMode(static_cast<Play::Mode>((static_cast<int>(play_.mode()) + 1) % 3)); });
    connect(record_, &QToolButton::toggled, &document_, &Document::setRecording);
    connect(&document_, &Document::sessionChanged, this, [this] {
        const QSignalBlocker quiet(record_);
        record_->setChecked(document_.recording());
    });
    connect(speaker_, &QToolButton::toggled, &sound_, &SoundPlayer::setOn);
    connect(&sound_, &SoundPlayer::changed, this, &TimePanel::refresh);
    connect(rows_, &TimeRows::scrubbed, &sound_, &SoundPlayer::grain);
    connect(rows_, &TimeRows::headChanged, this, &TimePanel::refreshHead);
    connect(ring_, &QToolButton::clicked, this, [this] {
        evaluation_.watchLoop();
        loop_->open(ring_->mapToGlobal(QPoint(ring_->width(), -4)));
    });
    connect(&evaluation_, &Evaluation::loopChecked, this, &TimePanel::refreshLoop);
    connect(&evaluation_, &Evaluation::framesReady, this,
            [this] { rows_->showReady(framesOf(document_.scene()).first, evaluation_.readyFrames()); });
    connect(first, &QToolButton::clicked, &play_, &Play::toStart);
    connect(back, &QToolButton::clicked, this, [this] { play_.stepFrames(-1); });
    connect(play_button_, &QToolButton::clicked, &play_, &Play::toggle);
    connect(next, &QToolButton::clicked, this, [this] { play_.stepFrames(1); });
    connect(last, &QToolButton::clicked, &play_, &Play::toEnd);
    connect(project_, &QToolButton::clicked, this, [this] { document_.choose(document_.scene().project().id); });
    connect(&play_, &Play::changed, this, &TimePanel::refresh);
    connect(&document_, &Document::sceneChanged, this, &TimePanel::refresh);
    connect(&evaluation_, &Evaluation::ready, this, &TimePanel::refresh);
    refresh();
}

void TimePanel::setAside(QWidget* other) {
    if (aside_) aside_->hide();
    aside_ = other;
    if (other && transport_->indexOf(other) < 0) transport_->addWidget(other, 3);
    if (other) other->show();
    for (QWidget* own : {static_cast<QWidget*>(speed_), static_cast<QWidget*>(ring_), static_cast<QWidget*>(curvesButton_),
                         static_cast<QWidget*>(list_), static_cast<QWidget*>(project_)})
        own->setVisible(!other);
}

bool TimePanel::showsLedger() const { return list_->isChecked(); }

int TimePanel::heightWanted() const { return showsLedger() ? 280 : curvesButton_->isChecked() ? 260 : 0; }

void TimePanel::showLedger(bool on) {
    showInstead(on ? ledger_ : nullptr);
    emit roomWanted();
}

void TimePanel::showCurves(bool on, ObjectId object) {
    if (on) curves_->show(object ? object : document_.chosen());
    showInstead(on ? curves_ : nullptr);
    emit roomWanted();
}

/// Something in place of the rows, under the ruler with its playhead; null for the rows.
void TimePanel::showInstead(QWidget* panel) {
    const QSignalBlocker quietList(list_), quietCurves(curvesButton_);
    list_->setChecked(panel == ledger_);
    curvesButton_->setChecked(panel == curves_);
    const bool on = panel != nullptr;
    scroll_->verticalScrollBar()->setValue(0);
    scroll_->setVerticalScrollBarPolicy(on ? Qt::ScrollBarAlwaysOff : Qt::ScrollBarAsNeeded);
    refreshHead();
    ledger_->setVisible(panel == ledger_);
    curves_->setVisible(panel == curves_);
}

/// In place of the rows only what stands above them is seen of them.
void TimePanel::refreshHead() {
    const bool instead = list_->isChecked() || curvesButton_->isChecked();
    scroll_->setMaximumHeight(instead ? rows_->headHeight() : QWIDGETSIZE_MAX);
    scroll_->setMinimumHeight(instead ? rows_->headHeight() : 0);
}

void TimePanel::refreshLoop() {
    const auto check = evaluation_.loop();
    ring_->setIcon(theme::icon(!check ? "loop-unknown" : check->closed ? "loop-closed" : "loop-broken"));
    ring_->setToolTip(!check          ? "The loop has not been checked; a click does it"
                      : check->closed ? "The seam of the loop is closed"
                                      : "The seam of the loop is broken; a click tells why and offers mends");
}

/// What is slow, when pictures come too late: the dearest of evaluation and drawing.
QString TimePanel::late() const {
    const double wanted = momentAt(document_.scene(), 0).rate, shown = play_.shownRate();
    const auto latest = evaluation_.latest();
    if (!latest || shown <= 0) return {};
    QString text = QString("%1 of %2 frames a second").arg(shown, 0, 'f', 1).arg(wanted, 0, 'g', 4);
    if (shown > 0.9 * wanted) return text;
    const double budget = 1000 / wanted;
    if (latest->milliseconds < 0.6 * budget) return text + ": drawing is slow";
    const Object* dearest = document_.scene().find(latest->dearest);
    return text + QString(": evaluating is slow%1").arg(dearest ? ", most of all “" + QString::fromStdString(dearest->name) + "”" : "");
}

QToolButton* TimePanel::button(const char* name, const QString& tip) {
    auto* made = new QToolButton(this);
    made->setIcon(theme::icon(name));
    made->setToolTip(tip);
    made->setAccessibleName(tip);
    made->setFixedSize(26, 26);
    return made;
}

void TimePanel::refresh() {
    const FrameRange range = framesOf(document_.scene());
    const Moment moment = momentAt(document_.scene(), 0);
    play_button_->setIcon(theme::icon(play_.playing() ? "pause" : "play"));
    range_->setText(
        QString("%1 – %2   %3 frames a second   loop %4").arg(range.first).arg(range.last).arg(moment.rate).arg(moment.loopFrames));
    const bool sounds = sound_.somethingToHear();
    const QString trouble = sound_.trouble();
    const QSignalBlocker quiet(speaker_);
    speaker_->setVisible(sounds && !aside_);
    speaker_->setChecked(sound_.on());
    speaker_->setIcon(theme::icon(!sound_.on() ? "speaker-off" : trouble.isEmpty() ? "speaker" : "speaker-none"));
    speaker_->setToolTip(!trouble.isEmpty() ? trouble
                         : sound_.on()      ? "Sounds are heard while it plays; a click silences them"
                                            : "Silent; a click lets sounds be heard");
    speaker_->setAccessibleName(speaker_->toolTip());
    const char* const modes[] = {"play-loop", "play-once", "play-back"};
    const char* const told[] = {"Plays over and over", "Plays to the end of the range", "Plays there and back"};
    mode_->setIcon(theme::icon(modes[static_cast<int>(play_.mode())]));
    mode_->setToolTip(QString(told[static_cast<int>(play_.mode())]) + "; a click changes that");
    QString speed = late();
    const auto latest = evaluation_.latest();
    if (speed.isEmpty() && latest) speed = QString("evaluated in %1 ms").arg(latest->milliseconds, 0, 'f', 1);
    speed_->setToolTip(speed + (viewNote_.isEmpty() ? "" : "\n" + viewNote_));
    speed_->setText(speed_->fontMetrics().elidedText(speed, Qt::ElideRight, speed_->contentsRect().width() - 8));
}

void TimePanel::resizeEvent(QResizeEvent*) { refresh(); }
