#include "app/settings/formation_picker.h"

#include <QGridLayout>
#include <QMetaObject>
#include <QScreen>

#include "app/document/evaluation.h"
#include "app/settings/formation_sketch.h"
#include "app/theme/theme.h"
#include "core/base/error.h"

using namespace gswarm;

namespace {

constexpr int columns = 4;

struct Answer {
    QString text;
    bool trouble = false;
};

/// How many instances the swarm would have with another kind of formation; nothing of it is made.
Answer countWith(const Scene& scene, ObjectId formation, const Kind& kind, double frame, const PlanOptions& options, Evaluator& evaluator,
                 Progress& progress) {
    try {
        const Scene changed = &kind == scene.at(formation).part("formation").kind ? scene : setFormation(scene, formation, kind).scene;
        const ObjectId swarm = changed.ownerOf(formation);
        const CountTold told = countOf(changed, swarm, changed.at(formation), frame, options, evaluator.store(), progress);
        const bool tooMany = told.count > mostInstances;
        return {QString("%1%2%3").arg(told.guess ? "about " : "", QString::fromStdString(grouped(told.count)), tooMany ? ": too many" : ""),
                tooMany};
    } catch (const Error& error) {
        return {QString::fromStdString(error.what()), false};
    }
}

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
        grid->addWidget(sketch, n / columns, n % columns);
        ++n;
        connect(sketch, &QPushButton::clicked, this, [this, kind] {
            hide();
            emit taken(formation_, kind);
        });
        sketches_.push_back(sketch);
    }
}

void FormationPicker::open(ObjectId formation, QWidget* beside) {
    formation_ = formation;
    const Kind* now = document_.scene().at(formation).part("formation").kind;
    for (FormationSketch* sketch : sketches_) {
        sketch->setCurrent(&sketch->kind() == now);
        sketch->setCount("…", false);
    }
    adjustSize();
    const QRect window = this->parentWidget()->window()->frameGeometry();
    QPoint at = beside->mapToGlobal(QPoint(-width() - 8, -40));
    at.setX(std::max(window.left() + 8, at.x()));
    at.setY(std::clamp(at.y(), window.top() + 8, std::max(window.top() + 8, window.bottom() - height() - 8)));
    move(at);
    show();
    for (FormationSketch* sketch : sketches_)
        if (&sketch->kind() == now) sketch->setFocus();
    askCounts();
}

void FormationPicker::askCounts() {
    const int asked = ++asked_;
    const PlanOptions options{{}, document_.folder()};
    evaluation_.ask([this, asked, options, scene = document_.scene(), formation = formation_, frame = document_.frame()](
                        Evaluator& evaluator, Progress& progress) {
        for (FormationSketch* sketch : sketches_) {
            progress.check();
            const Answer answer = countWith(scene, formation, sketch->kind(), frame, options, evaluator, progress);
            QMetaObject::invokeMethod(
                this,
                [this, asked, sketch, answer] {
                    if (asked == asked_) sketch->setCount(answer.text, answer.trouble);
                },
                Qt::QueuedConnection);
        }
    });
}
