// The five questions of a gesture.
#include "app/settings/settings.h"

#include <algorithm>
#include <cmath>
#include <QGridLayout>
#include <QLabel>
#include <QPushButton>

#include "app/document/evaluation.h"
#include "app/settings/parameter_row.h"
#include "app/settings/section.h"
#include "app/theme/theme.h"
#include "core/gesture/gesture_kind.h"
#include "core/scene/rail_edits.h"
#include "core/scene/resolve.h"

using namespace gswarm;

QString Settings::changeSummary(const Object& gesture) const {
    const Part& change = gesture.part("change");
    if (change.kind != &changeGesture) return said(change.kind->label);
    QStringList on;
    for (const Channel& channel : changeChannels)
        if (switchOf(change, channel.id)) on << QString(channel.label).toLower();
    return on.isEmpty() ? "nothing yet" : on.join(", ");
}

QString Settings::whereSummary(const Object& gesture) const {
    QStringList parts;
    for (const ObjectId id : gesture.list("weave")) {
        const Object& entry = document_.scene().at(id);
        const Object* zone = document_.scene().find(referenceOf(entry.part("entry"), "zone"));
        const QString name = zone ? said(zone->name) : entry.list("group").empty() ? QString("a deleted zone") : QString("a group");
        parts << (parts.isEmpty() ? name : said(choiceOf(entry.part("entry"), "operation")) + " " + name);
    }
    return parts.isEmpty() ? "everywhere" : parts.join(", ");
}

QString Settings::whenSummary(const Object& gesture) const {
    const Part& when = gesture.part("when");
    const bool keyed = std::get<Numbers>(gesture.part("change")["strength"])[0].keyed();
    const QString strength =
        keyed ? "keyed" : QString("%1 %").arg(numberAt(document_.scene(), gesture.part("change"), "strength", document_.frame()));
    return choiceOf(when, "by") == "none" ? strength + ", all at once" : strength + ", staggered";
}

std::shared_ptr<const Census> Settings::censusOf(ObjectId gesture) const {
    const auto result = evaluation_.resultOf(document_.swarm());
    if (!result) return nullptr;
    for (const Census& census : result->cards) {
        const Object* entry = document_.scene().find(census.entry);
        if (entry && referenceOf(entry->part("entry"), "gesture") == gesture) return {result, &census};
    }
    return nullptr;
}

void Settings::showGesture(const Object& gesture) {
    const ObjectId id = gesture.id;
    const auto object = [this, id]() -> const Object& { return document_.scene().at(id); };
    Section* change = addSection("What changes");
    addShared(change, id);
    addKindChoice(change, id, "change", "Does");
    std::vector<std::string> leftOut{"strength", "place"};
    if (gesture.part("change").kind == &changeGesture) {
        addChannels(change, gesture);
        for (const Channel& channel : changeChannels) leftOut.push_back(channel.id);
    }
    addChannelRows(change, id, leftOut);
    summaries_.push_back({change, [this, object] { return changeSummary(object()); }});

    Section* driven = addSection("Driven by");
    addKindChoice(driven, id, "pattern", "Pattern");
    addRows(driven, id, "pattern");
    addDrivenTold(driven, id);
    summaries_.push_back({driven, [object] { return said(object().part("pattern").kind->label); }});

    Section* where = addSection("Where");
    addWeave(where, gesture);
    addRows(where, id, "change", {}, {"place"});
    summaries_.push_back({where, [this, object] { return whereSummary(object()); }});

    Section* shaped = addSection("Shaped how");
    addResponses(shaped, gesture);
    if (!open_.contains("Shaped how")) shaped->setOpen(false);
    summaries_.push_back({shaped, [object] {
                              const bool plain = object().part("where").values == standardPart(*object().part("where").kind).values &&
                                                 object().part("shaped").values == standardPart(*object().part("shaped").kind).values;
                              return QString(plain ? "as it is" : "bent");
                          }});

    Section* when = addSection("When");
    addRows(when, id, "change", {}, {"strength"});
    addRows(when, id, "when");
    addTiming(when, gesture);
    summaries_.push_back({when, [this, object] { return whenSummary(object()); }});
}

/// That several swarms use the gesture, and which.
void Settings::addShared(Section* section, ObjectId gesture) {
    QStringList users;
    for (const ObjectId entry : document_.scene().referringTo(gesture))
        if (entry.type() == ObjectType::rail) users << said(document_.scene().at(document_.scene().ownerOf(entry)).name);
    if (users.size() < 2) return;
    auto* label = new QLabel("Shared by " + users.join(", ") + ": edited in one, changed in all.", content_);
    label->setObjectName("sharedBy");
    label->setWordWrap(true);
    section->body()->addWidget(label);
}

void Settings::addChannels(Section* section, const Object& gesture) {
    auto* box = new QWidget(content_);
    auto* grid = new QGridLayout(box);
    grid->setContentsMargins(0, 0, 0, 2);
    grid->setSpacing(3);
    const Part& part = gesture.part("change");
    int n = 0;
    for (const Channel& channel : changeChannels) {
        const Parameter& p = part.kind->parameters[static_cast<std::size_t>(part.kind->indexOf(channel.id))];
        auto* button = new QPushButton(channel.label, box);
        button->setObjectName(QString("channel-%1").arg(channel.id));
        button->setIcon(theme::icon(channel.icon));
        button->setIconSize({13, 13});
        button->setStyleSheet("padding: 0 2px;");
        button->setCheckable(true);
        button->setChecked(switchOf(part, channel.id));
        button->setToolTip(said(p.summary));
        grid->addWidget(button, n / 4, n % 4);
        ++n;
        connect(button, &QPushButton::clicked, this, [this, id = gesture.id, name = channel.id](bool on) { switchChannel(id, name, on); });
    }
    section->body()->addWidget(box);
}

/// The rows of the table; of each channel by or to stands beside the axes that are meant.
void Settings::addChannelRows(Section* section, ObjectId gesture, std::vector<std::string> leftOut) {
    const Object& object = document_.scene().at(gesture);
    const Part& change = object.part("change");
    if (change.kind != &changeGesture) return addRows(section, gesture, "change", leftOut);
    for (const Channel& channel : changeChannels) {
        const std::string name = channel.id;
        if (!switchOf(change, name)) continue;
        std::vector<std::string> pair;
        for (const std::string& parameter : {name + "Mode", name + "Axes", name + "In"}) {
            const int at = change.kind->indexOf(parameter);
            if (at < 0) continue;
            leftOut.push_back(parameter);
            if (applies(change.kind->parameters[static_cast<std::size_t>(at)], change)) pair.push_back(parameter);
        }
        if (!pair.empty()) addSideBySide(section, gesture, pair, channel.label);
        std::vector<std::string> own;
        for (const Parameter& p : change.kind->parameters)
            for (const Condition& condition : p.when)
                if (condition.parameter == name) own.push_back(p.id);
        addRows(section, gesture, "change", leftOut, own);
    }
}

/// A named number can only be changed where there is one: the first is made with the channel, in one step.
void Settings::switchChannel(ObjectId gesture, const char* channel, bool on) {
    document_.edit([&](const Scene& scene) {
        Edit edit = gswarm::setValue(scene, addressOf(scene, gesture, channel), on);
        const std::string label = edit.label;
        const bool number = std::string_view(channel) == "number" && on && document_.swarm();
        if (number && !scene.find(referenceOf(scene.at(gesture).part("change"), "numberOf"))) {
            const auto& numbers = scene.at(document_.swarm()).list("numbers");
            ObjectId first = numbers.empty() ? ObjectId{} : numbers.front();
            if (!first) {
                edit = addNamedNumber(edit.scene, document_.swarm(), "amount");
                first = edit.made;
            }
            edit = gswarm::setValue(edit.scene, addressOf(edit.scene, gesture, "numberOf"), first);
        }
        edit.label = label;
        edit.mergeKey.clear();
        edit.made = {};
        return edit;
    });
    document_.seal();
}

/// What the pattern gives at this frame, beside the title; below it what is wrong.
void Settings::addDrivenTold(Section* section, ObjectId gesture) {
    auto* line = new QLabel(content_);
    line->setObjectName("drivenTold");
    line->setWordWrap(true);
    line->setStyleSheet("color: #f08a72;");
    section->body()->addWidget(line);
    const auto tell = [this, section, line, gesture] {
        const auto census = censusOf(gesture);
        QString wrong, note;
        if (census && !census->waits.empty()) {
            wrong = "It waits: " + said(census->waits);
        } else if (census && census->notFinite > 0) {
            wrong = "No number on " + theme::grouped(census->notFinite) + " instances: they keep what they had before this card.";
        } else if (census && census->acts && !census->samples.driven.empty()) {
            const auto [least, most] = std::minmax_element(census->samples.driven.begin(), census->samples.driven.end());
            const auto shown = [](float v) { return QString::number(std::round(v * 1000) / 1000); };
            note = *least == *most ? "gives " + shown(*least) : "gives " + shown(*least) + " to " + shown(*most);
        }
        line->setText(wrong);
        line->setVisible(!wrong.isEmpty());
        section->setNote(note);
    };
    told_.push_back(tell);
    tell();
}

void Settings::addTiming(Section* section, const Object& gesture) {
    auto* label = new QLabel(content_);
    label->setWordWrap(true);
    label->setStyleSheet("color: #a3967f;");
    section->body()->addWidget(label);
    const Track& strength = std::get<Numbers>(gesture.part("change")["strength"])[0];
    const Moment moment = momentAt(document_.scene(), 0);
    const double over = choiceOf(gesture.part("when"), "by") == "none" ? 0 : numberAt(document_.scene(), gesture.part("when"), "over", 0);
    if (!strength.keyed()) {
        label->setText("The strength is the same at every frame. Press K in it to key it.");
        return;
    }
    const double first = strength.keys->front().frame, last = strength.keys->back().frame;
    const auto seconds = [&](double frames) { return QString::number(frames / moment.rate, 'f', 2) + " s"; };
    label->setText(QString("Each takes %1 · last starts at %2 · all done at %3")
                       .arg(seconds(last - first), seconds(first + std::max(over, 0.0)), seconds(last + std::max(over, 0.0))));
}
