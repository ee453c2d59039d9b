// The five questions of a gesture.
#include "app/settings/settings.h"

#include <algorithm>
#include <cmath>
#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

#include "app/document/evaluation.h"
#include "app/document/tally_text.h"
#include "app/fields/key_menu.h"
#include "app/fields/number_field.h"
#include "app/settings/parameter_row.h"
#include "app/settings/section.h"
#include "app/theme/theme.h"
#include "core/edit/rail_edits.h"
#include "core/edit/timing_edits.h"
#include "core/explain/loop_check.h"
#include "core/gesture/gesture_kind.h"
#include "core/resolve/resolve.h"

using namespace gswarm;

QString Settings::changeSummary(const Object& gesture) const {
    const Part& change = gesture.part("change");
    if (!choosesByOrTo(change)) return said(change.kind->label);
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
    const Part& follow = gesture.part("follow");
    const bool remembers = choiceOf(follow, "weight") != "none" || choiceOf(follow, "driven") != "none";
    return strength + (choiceOf(when, "by") == "none" ? ", all at once" : ", staggered") + (remembers ? ", follows through" : "");
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
    if (choosesByOrTo(gesture.part("change"))) {
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
    addTiming(when, gesture);
    addRows(when, id, "when");
    const Part& follow = gesture.part("follow");
    const bool remembers = choiceOf(follow, "weight") != "none" || choiceOf(follow, "driven") != "none";
    addRows(when, id, "follow", remembers ? std::vector<std::string>{} : std::vector<std::string>{"loops"});
    if (!loopMends(document_.scene(), id).empty()) {
        auto* loop = new QPushButton("Make it loop", content_);
        loop->setObjectName("makeLoop");
        loop->setToolTip("Speeds become whole laps, keys come back, a memory starts one loop early");
        when->body()->addWidget(loop);
        connect(loop, &QPushButton::clicked, this, [this, id] {
            document_.edit([&](const Scene& s) { return makeLoop(s, id); });
            document_.seal();
        });
    }
    summaries_.push_back({when, [this, object] { return whenSummary(object()); }});
}

/// That several swarms use the gesture, and which.
void Settings::addShared(Section* section, ObjectId gesture) {
    QStringList users;
    const Scene& scene = document_.scene();
    for (const ObjectId swarm : scene.all(ObjectType::swarm))
        for (const ObjectId entry : scene.at(swarm).list("rail"))
            if (referenceOf(scene.at(entry).part("entry"), "gesture") == gesture) users << said(scene.at(swarm).name);
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
    if (!choosesByOrTo(change)) return addRows(section, gesture, "change", leftOut);
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

/// A named value can only be changed where there is one: the first is made with the channel, in one step.
void Settings::switchChannel(ObjectId gesture, const char* channel, bool on) {
    document_.edit([&](const Scene& scene) {
        Edit edit = gswarm::setValue(scene, addressOf(scene, gesture, channel), on);
        const std::string label = edit.label;
        const bool number = std::string_view(channel) == "value" && on && document_.swarm();
        if (number && !scene.find(referenceOf(scene.at(gesture).part("change"), "valueOf"))) {
            const auto& numbers = scene.at(document_.swarm()).list("namedValues");
            ObjectId first = numbers.empty() ? ObjectId{} : numbers.front();
            if (!first) {
                edit = addNamedValue(edit.scene, document_.swarm(), "amount");
                first = edit.made;
            }
            edit = gswarm::setValue(edit.scene, addressOf(edit.scene, gesture, "valueOf"), first);
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
            wrong = "It waits. " + said(census->waits);
        } else if (census && census->notFinite > 0) {
            wrong = notFiniteText(census->notFinite);
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

/// "Each takes · last starts at · all done at": editing one adjusts the others.
void Settings::addTiming(Section* section, const Object& gesture) {
    const ObjectId id = gesture.id;
    if (!timingOf(document_.scene(), id, document_.frame())) {
        auto* grow = new QPushButton("Grow from 0 to 100 % over a second", content_);
        grow->setObjectName("grow");
        grow->setToolTip("Two keys of the strength, from the playhead on");
        section->body()->addWidget(grow);
        connect(grow, &QPushButton::clicked, this, [this, id] {
            document_.edit([&](const Scene& s) { return growFrom(s, id, document_.frame()); });
            document_.seal();
        });
        return;
    }
    struct Field {
        const char *name, *label, *summary;
        double (*read)(const Timing&);
        Edit (*write)(const Scene&, ObjectId, double);
    };
    static const Field fields[] = {
        {"timing-each", "Each takes", "How long every single instance takes", [](const Timing& t) { return t.each; }, setEach},
        {"timing-last", "Last starts at", "The frame at which the last instance starts", [](const Timing& t) { return t.lastStarts; },
         setLastStart},
        {"timing-done", "All done at", "The frame at which all have finished", [](const Timing& t) { return t.done(); }, setDone}};
    auto* row = new QWidget(content_);
    row->setObjectName("timing");
    auto* grid = new QGridLayout(row);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setSpacing(3);
    auto* seconds = new QLabel(content_);
    seconds->setObjectName("timingSeconds");
    seconds->setStyleSheet("color: #a3967f;");
    std::vector<NumberField*> made;
    for (int k = 0; k < 3; ++k) {
        const Field& field = fields[k];
        Parameter p;
        p.label = field.label;
        p.summary = field.summary;
        p.unit = "frames";
        p.type = ParameterType::whole;
        p.suggested = {0, 200};
        auto* label = new QLabel(field.label, row);
        label->setStyleSheet("color: #a3967f;");
        auto* number = new NumberField(p, momentAt(document_.scene(), 0).rate, row);
        number->setObjectName(field.name);
        grid->addWidget(label, 0, k);
        grid->addWidget(number, 1, k);
        made.push_back(number);
        connect(number, &NumberField::edited, this,
                [this, id, write = field.write](double v) { document_.edit([&](const Scene& s) { return write(s, id, v); }); });
        connect(number, &NumberField::finished, this, [this] { document_.seal(); });
        connect(number, &NumberField::trouble, this, &Settings::trouble);
    }
    section->body()->addWidget(row);
    section->body()->addWidget(seconds);
    addGrowthEase(section, id);
    const auto tell = [this, id, made, seconds] {
        const auto timing = document_.scene().find(id) ? timingOf(document_.scene(), id, document_.frame()) : std::nullopt;
        if (!timing) return;
        for (std::size_t k = 0; k < made.size(); ++k) made[k]->show(fields[k].read(*timing), NumberField::Mark::none);
        const double rate = momentAt(document_.scene(), 0).rate;
        const auto text = [rate](double frames) { return QString::number(frames / rate, 'f', 2) + " s"; };
        seconds->setText(text(timing->each) + " · " + text(timing->lastStarts) + " · " + text(timing->done()));
    };
    told_.push_back(tell);
    tell();
}

/// The ease of the growth of each; that of the order is the stagger's own.
void Settings::addGrowthEase(Section* section, ObjectId gesture) {
    auto* row = new QWidget(content_);
    auto* line = new QHBoxLayout(row);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(4);
    auto* label = new QLabel("Ease of each", row);
    label->setFixedWidth(92);
    label->setStyleSheet("color: #a3967f;");
    auto* box = new QComboBox(row);
    box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);  // long choices never widen the panel
    box->setObjectName("growthEase");
    for (const EaseChoice& choice : easeChoices()) box->addItem(choice.label, static_cast<int>(choice.ease));
    line->addWidget(label);
    line->addWidget(box, 1);
    section->body()->addWidget(row);
    connect(box, &QComboBox::activated, this, [this, box, gesture] {
        const auto ease = static_cast<Ease>(box->currentData().toInt());
        document_.edit([&](const Scene& s) { return setGrowthEase(s, gesture, ease); });
        document_.seal();
    });
    const auto tell = [this, box, gesture] {
        const auto timing = document_.scene().find(gesture) ? timingOf(document_.scene(), gesture, document_.frame()) : std::nullopt;
        if (timing) box->setCurrentIndex(box->findData(static_cast<int>(timing->ease)));
    };
    told_.push_back(tell);
    tell();
}
