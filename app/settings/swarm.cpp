// A swarm itself: where it is, and its named values.
#include <QHBoxLayout>
#include <QLineEdit>
#include <QPushButton>
#include <QToolButton>

#include "app/settings/parameter_row.h"
#include "app/settings/questions.h"
#include "app/theme/theme.h"
#include "core/edit/rail_edits.h"

using namespace gswarm;

namespace {

class PlaceOfSwarm : public Question {
  public:
    PlaceOfSwarm(SettingsDesk& desk, const Subject& swarm) : Question(desk, swarm, "Place of the swarm") {}

  private:
    void fill() override {
        addRows(subject(), "place", {"formation"});
        addRows(subject(), "hang");
    }
};

/// Columns of numbers that gestures change and patterns, formulas and exports read.
class NamedValues : public Question {
  public:
    NamedValues(SettingsDesk& desk, const Subject& swarm) : Question(desk, swarm, "Named values") {
        if (object().list("namedValues").empty()) startClosed();
    }

  private:
    void fill() override {
        const auto values = uses([this] {
            std::vector<std::pair<ObjectId, std::string>> values;
            for (const ObjectId id : object().list("namedValues")) values.emplace_back(id, scene().at(id).name);
            return values;
        });
        for (const auto& [id, name] : values) addValue(id, said(name));
        auto* add = new QPushButton("A named value", content());
        add->setObjectName("addNumber");
        add->setIcon(theme::icon("plus"));
        add->setToolTip("A value of each instance: gestures change it, later ones, colours and exports read it");
        body()->addWidget(add);
        connect(add, &QPushButton::clicked, this,
                [this] { document().edit([&](const Scene& s) { return addNamedValue(s, subject(), "amount"); }); });
    }

    QString summary() const override {
        const auto count = object().list("namedValues").size();
        return count ? QString::number(count) : QString("none");
    }

    void addValue(ObjectId id, const QString& name) {
        QHBoxLayout* line = addLine();
        auto* field = new QLineEdit(name, content());
        field->setObjectName("namedValueName");
        field->setAccessibleName("Name of the value");
        field->setToolTip("How formulas call it; renaming rewrites them");
        line->addWidget(field, 1);
        ParameterRow* value = makeRow(addressOf(scene(), id, "standard"), content());
        value->setLabelWidth(0);
        value->setFixedWidth(84);
        line->addWidget(value);
        auto* away = smallButton("close", "removeNumber", "Take the value away; gestures that use it wait", content());
        line->addWidget(away);
        connect(field, &QLineEdit::editingFinished, this, [this, field, id] {
            const Object* found = scene().find(id);
            if (found && field->text() != said(found->name))
                document().edit([&](const Scene& s) { return rename(s, id, field->text().toStdString()); });
        });
        connect(away, &QToolButton::clicked, this, [this, id] { document().edit([&](const Scene& s) { return remove(s, id); }); });
    }
};

}  // namespace

Question* placeOfSwarm(SettingsDesk& desk, const Subject& swarm) { return new PlaceOfSwarm(desk, swarm); }
Question* namedValuesOfSwarm(SettingsDesk& desk, const Subject& swarm) { return new NamedValues(desk, swarm); }
