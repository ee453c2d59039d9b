#include "app/settings/formation_picker.h"

#include <QGridLayout>

#include "app/document/evaluation.h"
#include "app/document/own_starts.h"
#include "app/scene/own_starts_row.h"
#include "app/settings/formation_sketch.h"
#include "core/kinds/registry.h"

using namespace gswarm;

namespace {

constexpr int tilesAcross = 4;

}  // namespace

FormationPicker::FormationPicker(Document& document, Evaluation& evaluation, QWidget* parent)
    : QFrame(parent, Qt::Popup), document_(document), evaluation_(evaluation) {
    setObjectName("formationPicker");
    setStyleSheet("#formationPicker { background: #15120e; border: 1px solid #3a3329; border-radius: 4px; }");
    auto* grid = new QGridLayout(this);
    grid->setContentsMargins(8, 8, 8, 8);
    grid->setSpacing(6);
    int n = 0;
    for (const Kind* kind : kindsOf(Family::formation)) {
        auto* sketch = new FormationSketch(*kind, this);
        grid->addWidget(sketch, n / tilesAcross, n % tilesAcross);
        ++n;
        connect(sketch, &QPushButton::clicked, this, [this, kind] {
            hide();
            emit taken(formation_, kind);
        });
        sketches_.push_back(sketch);
    }
    own_ = new OwnStartsRow({StartOf::formation}, tilesAcross, this);
    grid->addWidget(own_, (n + tilesAcross - 1) / tilesAcross, 0, 1, tilesAcross);
    connect(own_, &OwnStartsRow::taken, this, [this](const std::filesystem::path& path) {
        hide();
        useStartFile(document_, path, {});
    });
    connect(&evaluation_, &Evaluation::counted, this, [this](int question, const QString& kind, const QString& text, bool tooMany) {
        for (FormationSketch* sketch : sketches_)
            if (question == asked_ && kind == QString::fromStdString(sketch->kind().id)) sketch->setCount(text, tooMany);
    });
}

void FormationPicker::open(ObjectId formation, QWidget* beside) {
    if (!document_.scene().find(formation)) return;
    formation_ = formation;
    const Kind* now = document_.scene().at(formation).part("formation").kind;
    for (FormationSketch* sketch : sketches_) {
        sketch->setCurrent(&sketch->kind() == now);
        sketch->setCount("…", false);
    }
    own_->refresh();
    adjustSize();
    const QRect window = this->parentWidget()->window()->frameGeometry();
    QPoint at = beside->mapToGlobal(QPoint(-width() - 8, -40));
    at.setX(std::max(window.left() + 8, at.x()));
    at.setY(std::clamp(at.y(), window.top() + 8, std::max(window.top() + 8, window.bottom() - height() - 8)));
    move(at);
    show();
    for (FormationSketch* sketch : sketches_)
        if (&sketch->kind() == now) sketch->setFocus();
    evaluation_.askCounts(formation_, ++asked_);
}
