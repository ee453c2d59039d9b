// Where a gesture acts: the weave read downward, each zone unfolding in place, groups indented.
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QToolButton>

#include "app/fields/drop_target.h"
#include "app/fields/switch.h"
#include "app/settings/parameter_row.h"
#include "app/settings/questions.h"
#include "app/settings/weave_menu.h"
#include "app/theme/strip.h"
#include "app/theme/theme.h"
#include "core/edit/rail_edits.h"
#include "core/flow/result.h"
#include "core/kinds/registry.h"
#include "core/zone/zone_kind.h"

using namespace gswarm;

namespace {

constexpr int indent = 14;
constexpr int rowWidth = 268;  // of the settings at their usual width, beside a scroll bar
constexpr int operationWidth = 68;

/// Room for "100 %" beside its mark.
int amountWidth() { return QFontMetrics(theme::numbers()).horizontalAdvance("100 %") + 25; }

/// An entry of the weave as it stands in its row.
struct Entry {
    ObjectId id, zone;
    bool known;  ///< its zone is there
    QString name;
    int depth;
    bool group, first, on, pinned, handled, unfolded;
    bool operator==(const Entry&) const = default;
};

class WhereItActs : public Question {
  public:
    WhereItActs(SettingsDesk& desk, const Subject& gesture) : Question(desk, gesture, "Where") {
        new DropTarget(desk.document, this, {ObjectType::zone},
                       [this](ObjectId zone) { document().edit([&](const Scene& s) { return weaveZone(s, subject(), zone); }); });
    }

  private:
    void fill() override {
        const auto entries = uses([this] {
            std::vector<Entry> all;
            list(object().list("weave"), 0, all);
            return all;
        });
        for (const Entry& entry : entries) {
            addEntry(entry);
            if (entry.group || !entry.unfolded || !entry.known) continue;
            addKindChoice(entry.zone, "form", "Form");
            addRows(entry.zone, "form");
            addRows(entry.zone, "place", {"on"});
        }
        addZoneButtons(entries.empty());
        if (uses([this] { return object().holds("change"); })) addRows(subject(), "change", {}, {"place"});
    }

    QString summary() const override {
        QStringList parts;
        for (const ObjectId id : object().list("weave")) {
            const Object& entry = scene().at(id);
            const Object* zone = scene().find(referenceOf(entry.part("entry"), "zone"));
            const QString name = zone ? said(zone->name) : entry.list("group").empty() ? QString("a deleted zone") : QString("a group");
            parts << (parts.isEmpty() ? name : said(choiceOf(entry.part("entry"), "operation")) + " " + name);
        }
        return parts.isEmpty() ? "everywhere" : parts.join(", ");
    }

    /// The weave and what is grouped in it, in the order in which it is read.
    void list(const std::vector<ObjectId>& ids, int depth, std::vector<Entry>& out) const {
        for (const ObjectId id : ids) {
            const Object& object = scene().at(id);
            const Part& part = object.part("entry");
            const ObjectId zone = referenceOf(part, "zone");
            const Object* found = scene().find(zone);
            const bool group = !object.list("group").empty();
            out.push_back({id, zone, found != nullptr,
                           found   ? said(found->name)
                           : group ? QString("Group")
                                   : QString("deleted"),
                           depth, group, id == ids.front(), switchOf(part, "on"), found && document().session().pinned(zone),
                           found && document().handled() == zone, desk_.unfolded() == id});
            list(object.list("group"), depth + 1, out);
        }
    }

    void addEntry(const Entry& entry) {
        auto* row = new QWidget(content());
        row->setObjectName("weaveRow");
        auto* column = new QVBoxLayout(row);
        column->setContentsMargins(entry.depth * indent, 0, 0, 2);
        column->setSpacing(2);
        auto* line = new QHBoxLayout;
        line->setSpacing(3);
        column->addLayout(line);
        if (!entry.first) line->addWidget(narrowRow(entry.id, "operation", operationWidth, row));
        line->addWidget(nameButton(entry, row), 1);
        line->addWidget(narrowRow(entry.id, "amount", amountWidth(), row));
        auto* on = new Switch(row);
        on->setObjectName("weaveOn");
        on->setChecked(entry.on);
        on->setAccessibleName("On");
        line->addWidget(on);
        auto* more = new QToolButton(row);
        more->setObjectName("weaveMore");
        more->setIcon(theme::icon(entry.pinned ? "pin" : "more", theme::quiet));
        more->setToolTip("Pin in the view, group, move, take out");
        more->setAccessibleName("More");
        more->setFixedSize(22, 24);
        line->addWidget(more);
        const ObjectId id = entry.id;
        // Only cards are asked for all instances.
        if (gestureOfEntry(scene(), id).type() == ObjectType::gesture) addStrip(row, column, id);
        body()->addWidget(row);
        connect(on, &Switch::clicked, this, [this, id](bool now) { document().setValue(addressOf(scene(), id, "on"), now); });
        connect(more, &QToolButton::clicked, this,
                [this, id, more] { showWeaveMenu(document(), id, more->mapToGlobal(QPoint(0, more->height())), window()); });
    }

    void addStrip(QWidget* row, QVBoxLayout* column, ObjectId id) {
        auto* strip = new Strip(row);
        strip->setToolTip("The weight so far, over all instances in order");
        column->addWidget(strip);
        tells([this, strip, id] { strip->show(weightsAfter(id)); });
    }

    ParameterRow* narrowRow(ObjectId entry, const char* parameter, int width, QWidget* parent) {
        ParameterRow* row = makeRow(addressOf(scene(), entry, parameter), parent);
        row->setLabelWidth(0);
        row->setFixedWidth(width);
        return row;
    }

    QToolButton* nameButton(const Entry& entry, QWidget* row) {
        auto* name = new QToolButton(row);
        name->setObjectName("weaveName");
        name->setFont(theme::text(13, QFont::Medium));
        name->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
        const int room = rowWidth - entry.depth * indent - (entry.first ? 0 : operationWidth) - amountWidth() - 30 - 22 - 44;
        name->setText(QFontMetrics(name->font()).elidedText(entry.name, Qt::ElideRight, room));
        name->setIcon(theme::icon(entry.group ? "group" : "zone", entry.handled                ? theme::gold
                                                                  : entry.known || entry.group ? theme::ivory
                                                                                               : theme::coral));
        name->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
        name->setCheckable(!entry.group);
        name->setChecked(entry.unfolded);
        name->setToolTip(entry.group   ? "Its entries are woven first"
                         : entry.known ? entry.name + "\nClick unfolds the zone and shows its handles"
                                       : "Its zone was deleted: what acts here waits");
        connect(name, &QToolButton::clicked, this,
                [this, id = entry.id, zone = entry.zone](bool open) { desk_.unfold(open ? id : ObjectId{}, zone); });
        return name;
    }

    /// The weave as it is after one of its entries.
    std::vector<float> weightsAfter(ObjectId entry) const {
        if (!scene().find(entry)) return {};
        if (const auto census = desk_.censusOf(gestureOfEntry(scene(), entry)))
            for (const auto& [of, weights] : census->samples.weave)
                if (of == entry) return weights;
        return {};
    }

    /// Kinds that are reached for most stand as buttons; the rest opens from a menu.
    void addZoneButtons(bool first) {
        QHBoxLayout* line = addLine();
        auto* label = new QLabel(first ? "Only in:" : "And:", content());
        label->setStyleSheet("color: #a3967f;");
        line->addWidget(label);
        const auto addButton = [&](const QString& text, const QString& name, const QString& tip) {
            auto* button = new QPushButton(text, content());
            button->setObjectName("addZone-" + name);
            button->setToolTip(tip);
            button->setStyleSheet("padding: 0 7px;");
            line->addWidget(button);
            return button;
        };
        for (const Kind* kind : kindsOf(Family::zone)) {
            if (!static_cast<const ZoneKind*>(kind)->common) continue;
            auto* button = addButton(said(kind->label), said(kind->id), "A new zone: " + said(kind->summary).toLower());
            connect(button, &QPushButton::clicked, this, [this, kind] { desk_.makeZone(subject(), *kind); });
        }
        auto* more = addButton("More", "more", "Tubes, cones, rings, near curves and meshes, noise, formulas, chosen instances …");
        connect(more, &QPushButton::clicked, this,
                [this, more] { showZoneMenu(desk_, subject(), more->mapToGlobal(QPoint(0, more->height())), window()); });
        auto* pick = new QToolButton(content());
        pick->setIcon(theme::icon("pick"));
        pick->setToolTip("A zone that is there already: click it in the list or the view, or drag it here from the list");
        pick->setAccessibleName("Choose a zone");
        line->addWidget(pick);
        // The pick may be answered when this question is long gone.
        connect(pick, &QToolButton::clicked, this, [this] {
            document().startPick({ObjectType::zone}, [&document = document(), gesture = subject()](ObjectId zone) {
                document.edit([&](const Scene& s) { return weaveZone(s, gesture, zone); });
            });
        });
        line->addStretch(1);
    }
};

}  // namespace

Question* whereItActs(SettingsDesk& desk, const Subject& gesture) { return new WhereItActs(desk, gesture); }
