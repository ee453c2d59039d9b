#include "app/time/time_panel.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QScrollArea>
#include <QScrollBar>
#include <QToolButton>

#include "app/document/evaluation.h"
#include "app/ledger/ledger_panel.h"
#include "app/theme/theme.h"
#include "app/time/play.h"
#include "app/time/time_rows.h"
#include "core/exchange/export.h"

using namespace gswarm;

TimePanel::TimePanel(Document& document, Evaluation& evaluation, Play& play, QWidget* parent)
    : QWidget(parent), document_(document), evaluation_(evaluation), play_(play) {
    setObjectName("timePanel");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    auto* transport = new QHBoxLayout;
    transport->setContentsMargins(8, 2, 10, 2);
    transport->setSpacing(2);
    auto* first = button("first", "To the first frame (Home)");
    auto* back = button("previous", "One frame back (,)");
    play_button_ = button("play", "Play or stop (Space)");
    play_button_->setObjectName("play");
    auto* next = button("next", "One frame on (.)");
    auto* last = button("last", "To the last frame (End)");
    for (auto* b : {first, back, play_button_, next, last}) transport->addWidget(b);
    range_ = new QLabel(this);
    range_->setFont(theme::numbers(11));
    range_->setStyleSheet("color: #a3967f; padding-left: 10px;");
    transport->addWidget(range_);
    transport->addStretch(1);
    speed_ = new QLabel(this);
    speed_->setFont(theme::numbers(11));
    speed_->setStyleSheet("color: #a3967f;");
    transport->addWidget(speed_);
    list_ = button("ledger", "Ledger: a table of every number of every instance, in place of the rows (L)");
    list_->setObjectName("showLedger");
    list_->setCheckable(true);
    transport->addWidget(list_);
    piece_ = button("piece", "Settings of the piece: frame rate, range, loop, background");
    transport->addWidget(piece_);
    column->addLayout(transport);
    scroll_ = new QScrollArea(this);
    scroll_->setWidgetResizable(true);
    scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    rows_ = new TimeRows(document, this);
    scroll_->setWidget(rows_);
    column->addWidget(scroll_, 1);
    ledger_ = new LedgerPanel(document, evaluation, this);
    ledger_->hide();
    column->addWidget(ledger_, 1);
    connect(list_, &QToolButton::toggled, this, &TimePanel::showLedger);
    connect(first, &QToolButton::clicked, &play_, &Play::toStart);
    connect(back, &QToolButton::clicked, this, [this] { play_.stepFrames(-1); });
    connect(play_button_, &QToolButton::clicked, &play_, &Play::toggle);
    connect(next, &QToolButton::clicked, this, [this] { play_.stepFrames(1); });
    connect(last, &QToolButton::clicked, &play_, &Play::toEnd);
    connect(piece_, &QToolButton::clicked, this, [this] { document_.choose(document_.scene().piece().id); });
    connect(&play_, &Play::changed, this, &TimePanel::refresh);
    connect(&document_, &Document::sceneChanged, this, &TimePanel::refresh);
    connect(&evaluation_, &Evaluation::ready, this, &TimePanel::refresh);
    refresh();
}

bool TimePanel::showsLedger() const { return list_->isChecked(); }

void TimePanel::showLedger(bool on) {
    const QSignalBlocker quiet(list_);
    list_->setChecked(on);
    scroll_->verticalScrollBar()->setValue(0);
    scroll_->setVerticalScrollBarPolicy(on ? Qt::ScrollBarAlwaysOff : Qt::ScrollBarAsNeeded);
    scroll_->setMaximumHeight(on ? TimeRows::rulerHeight : QWIDGETSIZE_MAX);
    scroll_->setMinimumHeight(on ? TimeRows::rulerHeight : 0);
    ledger_->setVisible(on);
    emit ledgerShown(on);
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
    if (const auto latest = evaluation_.latest()) speed_->setText(QString("evaluated in %1 ms  ").arg(latest->milliseconds, 0, 'f', 1));
}
