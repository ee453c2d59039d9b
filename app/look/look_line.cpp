#include "app/look/look_line.h"

#include <cmath>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QToolButton>

#include "app/document/document.h"
#include "app/picture/traced_view.h"
#include "app/theme/ask_menu.h"
#include "app/theme/theme.h"

namespace {

QString clock(double seconds) {
    const int whole = static_cast<int>(std::ceil(seconds));
    return QString("%1:%2").arg(whole / 60).arg(whole % 60, 2, 10, QChar('0'));
}

QString told(const TracedState& state) {
    if (state.of == 0) return "not traced yet";
    if (state.coarse) return "a first look";
    const QString rays = state.raysPerSecond > 0 ? QString(" · %1 M rays/s").arg(state.raysPerSecond / 1e6, 0, 'f', 1) : QString();
    const QString left = state.done ? QString("done") : clock(state.secondsLeft) + " left";
    return QString("%1 of %2 samples%3 · noise %4 % · %5")
        .arg(state.samples)
        .arg(state.of)
        .arg(rays)
        .arg(state.noise * 100, 0, 'f', state.noise < 0.1 ? 1 : 0)
        .arg(left);
}

}  // namespace

LookLine::LookLine(Document& document, TracedView& view, QWidget* parent) : QWidget(parent), view_(view) {
    setObjectName("lookLine");
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(2);
    told_ = new QLabel(this);
    told_->setObjectName("lookTold");
    told_->setFont(theme::numbers(11));
    told_->setStyleSheet("color: #a3967f; padding-right: 6px;");
    told_->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    told_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    row->addWidget(told_, 1);
    samples_ = button("samples", "lookSamples", "How many samples a pixel takes at most, on average", false);
    filter_ = button("noise-filter", "lookFilter", "Noise filter: smooths along surfaces what noise is left", true);
    region_ = button("region", "lookRegion", "Trace a part: drag over it in the view; again for all of it", true);
    keep_ = button("keep", "lookKeep", "Keep this picture to compare with", false);
    compare_ = button("compare", "lookCompare", "The kept picture on the right of the divider", true);
    after_ = button("project", "lookAfter", "Background, fog, lines, bloom and exposure", false);
    connect(samples_, &QToolButton::clicked, this, &LookLine::askSamples);
    connect(filter_, &QToolButton::clicked, &view_, &TracedView::setFilters);
    connect(region_, &QToolButton::clicked, this, [this](bool on) { on ? view_.frameRegion() : view_.clearRegion(); });
    connect(keep_, &QToolButton::clicked, &view_, &TracedView::keep);
    connect(compare_, &QToolButton::clicked, &view_, &TracedView::compareWithKept);
    connect(after_, &QToolButton::clicked, this, [&document] { document.choose(document.scene().project().id); });
    connect(&view_, &TracedView::changed, this, &LookLine::refresh);
    refresh();
}

QToolButton* LookLine::button(const char* icon, const char* name, const QString& tip, bool checkable) {
    auto* made = new QToolButton(this);
    made->setObjectName(name);
    made->setIcon(theme::icon(icon));
    made->setToolTip(tip);
    made->setAccessibleName(tip);
    made->setFixedSize(26, 26);
    made->setCheckable(checkable);
    layout()->addWidget(made);
    return made;
}

void LookLine::refresh() {
    const QString text = view_.framesRegion() ? "Drag over the part that is to be traced" : told(view_.state());
    told_->setText(text);
    filter_->setChecked(view_.filters());
    region_->setChecked(view_.framesRegion() || view_.hasRegion());
    keep_->setEnabled(!view_.picture().isNull());
    compare_->setEnabled(view_.hasKept());
    compare_->setChecked(view_.comparesWithKept());
}

void LookLine::askSamples() {
    QMenu menu(window());
    for (const int samples : {16, 64, 256, 512, 1024, 4096}) {
        QAction* action = menu.addAction(QString("%1 samples").arg(samples), this, [this, samples] { view_.setSamples(samples); });
        action->setCheckable(true);
        action->setChecked(samples == view_.samples());
    }
    askMenu(menu, samples_->mapToGlobal(QPoint(0, -menu.sizeHint().height())), this);
}
