// The formation of a swarm with its versions.
#include <QHBoxLayout>
#include <QPushButton>
#include <QToolButton>

#include "app/settings/formation_picker.h"
#include "app/settings/questions.h"
#include "app/settings/swarm_told.h"
#include "app/theme/theme.h"
#include "core/arrange/fitted_formation.h"
#include "core/edit/rail_edits.h"

using namespace gswarm;

namespace {

class Formation : public Question {
  public:
    Formation(SettingsDesk& desk, const Subject& swarm) : Question(desk, swarm, "Formation") {}

  private:
    ObjectId formation() const { return referenceOf(object().part("place"), "formation"); }
    QString kindLabel() const { return said(scene().at(formation()).part("formation").kind->label); }

    void fill() override {
        addVersions();
        auto* choose = new QPushButton(content());
        choose->setObjectName("pickFormation");
        choose->setIcon(theme::icon("formation"));
        choose->setToolTip("Choose another formation from pictures (Ctrl+Shift+F); what both share stays");
        body()->addWidget(choose);
        tells([this, choose] { choose->setText(kindLabel()); });
        connect(choose, &QPushButton::clicked, this, [this, choose] { pick(choose); });
        addRows(uses([this] { return formation(); }), "formation");
        auto* told = new SwarmTold(desk_, subject(), content());
        body()->addWidget(told);
        tells([told] { told->tell(); });
    }

    QString summary() const override { return kindLabel(); }

    void pick(QWidget* under) {
        if (!picker_) {
            picker_ = new FormationPicker(document(), desk_.evaluation, this);
            connect(picker_, &FormationPicker::taken, this, [this](ObjectId of, const Kind* kind) {
                document().edit([&](const Scene& s) {
                    return setFormationFitted(s, of, *kind, document().frame(), {{}, document().folder()}, document().store());
                });
                document().seal();
            });
        }
        picker_->open(formation(), under);
    }

    struct Version {
        ObjectId id;
        std::string name;
        const Kind* kind;
        bool on;
        bool operator==(const Version&) const = default;
    };
    std::vector<Version> versions() const {
        std::vector<Version> all;
        for (const ObjectId id : object().list("formations"))
            all.push_back({id, scene().at(id).name, scene().at(id).part("formation").kind, id == formation()});
        return all;
    }

    /// Versions of the formation, one of them on; the gestures stay.
    void addVersions() {
        const auto all = uses([this] { return versions(); });
        QHBoxLayout* line = addLine("Version");
        for (std::size_t v = 0; v < all.size(); ++v) {
            auto* button = new QPushButton(QString::number(v + 1), content());
            button->setObjectName(QString("version-%1").arg(v + 1));
            button->setCheckable(true);
            button->setChecked(all[v].on);
            button->setFixedWidth(30);
            button->setToolTip(said(all[v].name + ": " + all[v].kind->label) + (all[v].on ? ", on" : ": switch to it; the gestures stay"));
            line->addWidget(button);
            connect(button, &QPushButton::clicked, this, [this, button, version = all[v]] {
                button->setChecked(version.on);
                switchTo(version.id);
            });
        }
        auto* more = smallButton("plus", "addVersion", "Another version: a copy of this one to change, lighter or heavier", content());
        line->addWidget(more);
        connect(more, &QToolButton::clicked, this, [this] {
            const ObjectId made = document().edit([&](const Scene& s) { return addFormationVersion(s, subject()); });
            if (made && document().chosen().type() == ObjectType::formation) document().choose(made);
        });
        if (all.size() > 1) {
            auto* away = smallButton("close", "removeVersion", "Delete this version", content());
            line->addWidget(away);
            connect(away, &QToolButton::clicked, this, [&document = document(), swarm = subject(), on = formation()] {
                const bool chosen = document.chosen() == on;
                document.edit([&](const Scene& s) { return remove(s, on); });
                if (chosen) document.choose(referenceOf(document.scene().at(swarm).part("place"), "formation"));
            });
        }
        line->addStretch(1);
    }

    void switchTo(ObjectId version) {
        Document& document = desk_.document;
        document.setValue(addressOf(scene(), subject(), "formation"), version);
        document.seal();
        if (document.chosen().type() == ObjectType::formation) document.choose(version);
    }

    FormationPicker* picker_ = nullptr;
};

}  // namespace

Question* formationOfSwarm(SettingsDesk& desk, const Subject& swarm) { return new Formation(desk, swarm); }
