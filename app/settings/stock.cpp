// What a swarm repeats: the entries of its stock, how they are dealt out, and how the chosen one is repeated.
#include <algorithm>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QToolButton>

#include "app/fields/drop_target.h"
#include "app/settings/parameter_row.h"
#include "app/settings/questions.h"
#include "app/settings/swarm_told.h"
#include "app/theme/theme.h"
#include "core/edit/rail_edits.h"
#include "core/kinds/registry.h"

using namespace gswarm;

namespace {

class Stock : public Question {
  public:
    Stock(SettingsDesk& desk, const Subject& swarm) : Question(desk, swarm, "Stock") {
        new DropTarget(desk.document, this, {ObjectType::shape, ObjectType::light, ObjectType::swarm},
                       [this](ObjectId shape) { repeatToo(shape); });
    }

  private:
    struct Entry {
        ObjectId id;
        QString shape;
        bool unfolded;
        const char* icon;
        bool operator==(const Entry&) const = default;
    };

    static const char* iconOf(ObjectType type) {
        return type == ObjectType::light ? "light" : type == ObjectType::swarm ? "swarm" : "shape";
    }

    std::string rule() const { return choiceOf(object().part("stockRule"), "by"); }

    std::vector<Entry> entries() const {
        const auto& stock = object().list("stock");
        const bool any = std::find(stock.begin(), stock.end(), desk_.unfolded()) != stock.end();
        std::vector<Entry> all;
        for (const ObjectId id : stock) {
            const Object* shape = scene().find(referenceOf(scene().at(id).part("entry"), "shape"));
            const bool unfolded = any ? id == desk_.unfolded() : all.empty();
            all.push_back({id, shape ? said(shape->name) : "its shape was deleted", unfolded, shape ? iconOf(shape->id.type()) : "shape"});
        }
        return all;
    }

    void fill() override {
        const auto all = uses([this] { return entries(); });
        const std::string by = uses([this] { return rule(); });
        for (std::size_t at = 0; at < all.size(); ++at) addEntry(all[at], static_cast<int>(at), static_cast<int>(all.size()), by);
        addMore();
        if (all.size() > 1) {
            addRows(subject(), "stockRule", {"fit", "gap"});
            if (by == "pattern") {
                addKindChoice(subject(), "stockPattern", "Pattern");
                addRows(subject(), "stockPattern");
            }
        }
        addRows(subject(), "stockRule", {}, {"fit", "gap"});
        // Elsewhere the formation says it for the whole swarm.
        if (!uses([this] { return document().chosen().type() == ObjectType::stock; })) return;
        auto* told = new SwarmTold(desk_, subject(), content());
        body()->addWidget(told);
        tells([told] { told->tell(); });
    }

    QString summary() const override { return theme::counted(static_cast<qint64>(object().list("stock").size()), "thing"); }

    void repeatToo(ObjectId shape) {
        document().edit([&](const Scene& s) { return addStock(s, subject(), shape); });
    }

    void addMore() {
        auto* more = new QPushButton("Repeat another shape too", content());
        more->setObjectName("addStock");
        more->setToolTip("A new box; choose its kind below");
        connect(more, &QPushButton::clicked, this, [this] {
            const ObjectId made = document().edit([&](const Scene& s) {
                const Edit shape = addShape(s, *kindsOf(Family::shape).front());
                return addStock(shape.scene, subject(), shape.made);
            });
            if (made) desk_.unfold(made);
        });
        auto* pick =
            smallButton("pick", "pickStock",
                        "A shape, a light or another swarm that is there already: click it in the list, or drag it here", content());
        // The pick may be answered when this question is long gone.
        connect(pick, &QToolButton::clicked, this, [this] {
            document().startPick({ObjectType::shape, ObjectType::light, ObjectType::swarm},
                                 [&document = document(), swarm = subject()](ObjectId shape) {
                                     document.edit([&](const Scene& s) { return addStock(s, swarm, shape); });
                                 });
        });
        QHBoxLayout* line = addLine();
        line->addWidget(more, 1);
        line->addWidget(pick);
    }

    void addEntry(const Entry& entry, int at, int count, const std::string& by) {
        auto* row = new QWidget(content());
        row->setObjectName(QString("stockRow-%1").arg(at + 1));
        auto* line = new QHBoxLayout(row);
        line->setContentsMargins(0, 0, 0, 0);
        line->setSpacing(2);
        auto* name = new QToolButton(row);
        name->setText(entry.shape);
        name->setIcon(theme::icon(entry.icon, entry.unfolded ? theme::gold : theme::ivory));
        name->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
        name->setToolTip("Show its settings below");
        name->setFont(theme::text(13, QFont::Medium));
        line->addWidget(name);
        line->addStretch(1);
        body()->addWidget(row);
        const ObjectId id = entry.id;
        connect(name, &QToolButton::clicked, this, [this, id] { desk_.unfold(id); });
        if (count < 2) return;
        if (by != "turn") {
            ParameterRow* odds = makeRow(addressOf(scene(), id, "odds"), row);
            odds->setFixedWidth(150);
            line->addWidget(odds);
        }
        auto* up = smallButton("up", QString("stockUp-%1").arg(at + 1), "Earlier", row);
        auto* down = smallButton("down", QString("stockDown-%1").arg(at + 1), "Later", row);
        auto* away = smallButton("close", QString("stockRemove-%1").arg(at + 1), "Take it out of the stock; the shape itself stays", row);
        up->setEnabled(at > 0);
        down->setEnabled(at + 1 < count);
        for (QToolButton* button : {up, down, away}) line->addWidget(button);
        connect(up, &QToolButton::clicked, this,
                [this, id, at] { document().edit([&](const Scene& s) { return moveInList(s, id, at - 1); }); });
        connect(down, &QToolButton::clicked, this,
                [this, id, at] { document().edit([&](const Scene& s) { return moveInList(s, id, at + 1); }); });
        connect(away, &QToolButton::clicked, this, [this, id] { document().edit([&](const Scene& s) { return remove(s, id); }); });
    }
};

class HowRepeated : public Question {
  public:
    HowRepeated(SettingsDesk& desk, const Subject& stockEntry) : Question(desk, stockEntry, "How it is repeated") {}

  private:
    void fill() override { addRows(subject(), "entry", {"odds", "material"}); }
};

}  // namespace

Question* stockOfSwarm(SettingsDesk& desk, const Subject& swarm) { return new Stock(desk, swarm); }
Question* howRepeated(SettingsDesk& desk, const Subject& stockEntry) { return new HowRepeated(desk, stockEntry); }
