// The five questions of a gesture.
#include "app/settings/settings.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

#include "app/settings/section.h"
#include "app/theme/theme.h"

using namespace gswarm;

QString Settings::changeSummary(const Object& gesture) const {
    QStringList on;
    for (const char* channel : changeChannels)
        if (switchOf(gesture.part("change"), channel)) on << channel;
    return on.isEmpty() ? "nothing yet" : on.join(", ");
}

QString Settings::whereSummary(const Object& gesture) const {
    QStringList parts;
    for (const ObjectId id : gesture.list("weave")) {
        const Part& entry = document_.scene().at(id).part("entry");
        const Object* zone = document_.scene().find(referenceOf(entry, "zone"));
        const QString name = zone ? said(zone->name) : "a deleted zone";
        parts << (parts.isEmpty() ? name : said(choiceOf(entry, "operation")) + " " + name);
    }
    return parts.isEmpty() ? "everywhere" : parts.join(", ");
}

QString Settings::whenSummary(const Object& gesture) const {
    const Part& when = gesture.part("when");
    const bool keyed = std::get<Numbers>(gesture.part("change")["strength"])[0].keyed();
    const QString strength = keyed ? "keyed" : QString("%1 %").arg(numberAt(gesture.part("change"), "strength", document_.frame()));
    return choiceOf(when, "by") == "none" ? strength + ", all at once" : strength + ", staggered";
}

void Settings::showGesture(const Object& gesture) {
    const ObjectId id = gesture.id;
    const auto object = [this, id]() -> const Object& { return document_.scene().at(id); };
    Section* change = addSection("What changes");
    addChannels(change, gesture);
    addRows(change, id, "change", {"strength", "place", "position", "rotation", "scale", "colour"});
    summaries_.push_back({change, [this, object] { return changeSummary(object()); }});

    Section* driven = addSection("Driven by");
    addKindChoice(driven, id, "pattern", "Pattern");
    addRows(driven, id, "pattern");
    summaries_.push_back({driven, [object] { return said(object().part("pattern").kind->label); }});

    Section* where = addSection("Where");
    addWeave(where, gesture);
    addRows(where, id, "change", {}, {"place"});
    summaries_.push_back({where, [this, object] { return whereSummary(object()); }});

    Section* shaped = addSection("Shaped how");
    for (const auto& [slot, title] : {std::pair{"where", "Where it acts"}, {"shaped", "What drives it"}}) {
        auto* label = new QLabel(title, content_);
        label->setFont(theme::text(12, QFont::Medium));
        shaped->body()->addWidget(label);
        addRows(shaped, id, slot);
    }
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

void Settings::addChannels(Section* section, const Object& gesture) {
    auto* row = new QWidget(content_);
    auto* line = new QHBoxLayout(row);
    line->setContentsMargins(0, 0, 0, 2);
    line->setSpacing(3);
    for (const char* channel : changeChannels) {
        const Part& part = gesture.part("change");
        const Parameter& p = part.kind->parameters[static_cast<std::size_t>(part.kind->indexOf(channel))];
        auto* button = new QPushButton(said(p.id == "colour"     ? "Colour"
                                            : p.id == "position" ? "Position"
                                            : p.id == "rotation" ? "Rotation"
                                                                 : "Scale"),
                                       row);
        button->setObjectName(QString("channel-%1").arg(channel));
        button->setIcon(theme::icon(channel));
        button->setIconSize({13, 13});
        button->setStyleSheet("padding: 0 2px;");
        button->setCheckable(true);
        button->setChecked(switchOf(part, channel));
        button->setToolTip(said(p.summary));
        line->addWidget(button, 1);
        connect(button, &QPushButton::clicked, this, [this, id = gesture.id, channel](bool on) {
            document_.setValue(addressOf(document_.scene(), id, channel), on);
            document_.seal();
        });
    }
    section->body()->addWidget(row);
}

void Settings::addTiming(Section* section, const Object& gesture) {
    auto* label = new QLabel(content_);
    label->setWordWrap(true);
    label->setStyleSheet("color: #a3967f;");
    section->body()->addWidget(label);
    const Track& strength = std::get<Numbers>(gesture.part("change")["strength"])[0];
    const Moment moment = momentAt(document_.scene(), 0);
    const double over = choiceOf(gesture.part("when"), "by") == "none" ? 0 : numberAt(gesture.part("when"), "over", 0);
    if (!strength.keyed()) {
        label->setText("The strength is the same at every frame. Press K in it to key it.");
        return;
    }
    const double first = strength.keys->front().frame, last = strength.keys->back().frame;
    const auto seconds = [&](double frames) { return QString::number(frames / moment.rate, 'f', 2) + " s"; };
    label->setText(QString("Each takes %1 · last starts at %2 · all done at %3")
                       .arg(seconds(last - first), seconds(first + std::max(over, 0.0)), seconds(last + std::max(over, 0.0))));
}
