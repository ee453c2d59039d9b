// A shape: itself, whether it is seen where swarms stand on it, and its kind beside the settings of what uses it.
#include <QPushButton>

#include "app/settings/questions.h"
#include "app/settings/swarm_told.h"
#include "app/theme/theme.h"
#include "core/edit/rail_edits.h"

using namespace gswarm;

namespace {

class ShapeItself : public Question {
  public:
    ShapeItself(SettingsDesk& desk, const Subject& shape)
        : Question(desk, shape, said(desk.document.scene().at(shape.object).part("maker").kind->label)) {}

  private:
    const Kind& kind() const { return *object().part("maker").kind; }

    void fill() override {
        setTitle(said(uses([this] { return kind().label; })));
        addKindChoice(subject(), "maker", "Kind");
        addRows(subject(), "maker");
        auto* apart = new QPushButton("Break it up", content());
        apart->setObjectName("breakUp");
        apart->setIcon(theme::icon("break"));
        apart->setToolTip("A new swarm of its pieces, each at its own home");
        body()->addWidget(apart);
        connect(apart, &QPushButton::clicked, this, [&document = document(), shape = subject()] {
            const ObjectId made = document.edit([&](const Scene& s) { return breakUp(s, shape); });
            if (made) document.choose(made);
        });
        const ObjectId swarm = uses([this] { return document().swarm(); });
        if (!swarm) return;
        auto* told = new SwarmTold(desk_, swarm, content());
        body()->addWidget(told);
        tells([told] { told->tell(); });
    }

    QString summary() const override { return said(kind().summary); }
};

class ShapeShown : public Question {
  public:
    ShapeShown(SettingsDesk& desk, const Subject& shape) : Question(desk, shape, "Shown") {}

  private:
    void fill() override { addRows(subject(), "display", {"material"}); }
    QString summary() const override { return said(choiceOf(object().part("display"), "as")); }
};

class ShapeInUse : public Question {
  public:
    ShapeInUse(SettingsDesk& desk, const Subject& shape)
        : Question(desk, shape, "Shape: " + said(desk.document.scene().at(shape.object).name)) {}

  private:
    void fill() override {
        setTitle("Shape: " + said(uses([this] { return object().name; })));
        addKindChoice(subject(), "maker", "Kind");
        addRows(subject(), "maker");
    }
};

}  // namespace

Question* shapeItself(SettingsDesk& desk, const Subject& shape) { return new ShapeItself(desk, shape); }
Question* shapeShown(SettingsDesk& desk, const Subject& shape) { return new ShapeShown(desk, shape); }
Question* shapeInUse(SettingsDesk& desk, const Subject& shape) { return new ShapeInUse(desk, shape); }
