// What changes: what the gesture does, and on which channels.
#include <array>
#include <QGridLayout>
#include <QLabel>
#include <QPushButton>

#include "app/settings/questions.h"
#include "app/theme/theme.h"
#include "core/edit/rail_edits.h"
#include "core/gesture/gesture_kind.h"

using namespace gswarm;

namespace {

/// The channels a change can have on, in the order of their buttons.
struct Channel {
    const char *id, *label, *icon;
};
constexpr std::array<Channel, 8> channels{{{"position", "Position", "position"},
                                           {"rotation", "Rotation", "rotation"},
                                           {"scale", "Scale", "scale"},
                                           {"colour", "Colour", "colour"},
                                           {"shape", "Shape", "shape-by"},
                                           {"showing", "Shown", "showing"},
                                           {"time", "Time", "time"},
                                           {"value", "Value", "number"}}};

QStringList usersByName(const Scene& scene, ObjectId gesture) {
    QStringList users;
    for (const ObjectId swarm : scene.all(ObjectType::swarm))
        for (const ObjectId entry : scene.at(swarm).list("rail"))
            if (referenceOf(scene.at(entry).part("entry"), "gesture") == gesture) users << said(scene.at(swarm).name);
    return users;
}

class WhatChanges : public Question {
  public:
    WhatChanges(SettingsDesk& desk, const Subject& gesture) : Question(desk, gesture, "What changes") {}

  private:
    const Part& change() const { return object().part("change"); }

    void fill() override {
        addShared();
        addKindChoice(subject(), "change", "Does");
        const bool byOrTo = uses([this] { return choosesByOrTo(change()); });
        if (!byOrTo) return addRows(subject(), "change", {"strength", "place"});
        const auto on = uses([this] {
            std::array<bool, channels.size()> on{};
            for (std::size_t k = 0; k < channels.size(); ++k) on[k] = switchOf(change(), channels[k].id);
            return on;
        });
        addChannels(on);
        for (std::size_t k = 0; k < channels.size(); ++k)
            if (on[k]) addChannelRows(channels[k]);
    }

    QString summary() const override {
        if (!choosesByOrTo(change())) return said(change().kind->label);
        QStringList on;
        for (const Channel& channel : channels)
            if (switchOf(change(), channel.id)) on << QString(channel.label).toLower();
        return on.isEmpty() ? "nothing yet" : on.join(", ");
    }

    /// That several swarms use the gesture, and which.
    void addShared() {
        const QStringList users = uses([this] { return usersByName(scene(), subject()); });
        if (users.size() < 2) return;
        auto* label = new QLabel("Shared by " + users.join(", ") + ": edited in one, changed in all.", content());
        label->setObjectName("sharedBy");
        label->setWordWrap(true);
        body()->addWidget(label);
    }

    void addChannels(const std::array<bool, channels.size()>& on) {
        auto* box = new QWidget(content());
        auto* grid = new QGridLayout(box);
        grid->setContentsMargins(0, 0, 0, 2);
        grid->setSpacing(3);
        for (std::size_t k = 0; k < channels.size(); ++k) {
            const Channel& channel = channels[k];
            auto* button = new QPushButton(channel.label, box);
            button->setObjectName(QString("channel-%1").arg(channel.id));
            button->setIcon(theme::icon(channel.icon));
            button->setIconSize({13, 13});
            button->setStyleSheet("padding: 0 2px;");
            button->setCheckable(true);
            button->setChecked(on[k]);
            button->setToolTip(said(change().kind->parameters[static_cast<std::size_t>(change().kind->indexOf(channel.id))].summary));
            grid->addWidget(button, static_cast<int>(k) / 4, static_cast<int>(k) % 4);
            connect(button, &QPushButton::clicked, this, [this, name = channel.id](bool now) { switchChannel(name, now); });
        }
        body()->addWidget(box);
    }

    /// By or to stands beside the axes that are meant; below them what else the channel has.
    void addChannelRows(const Channel& channel) {
        const std::string name = channel.id;
        const std::vector<std::string> pair = uses([this, name] {
            std::vector<std::string> pair;
            for (const std::string& parameter : {name + "Mode", name + "Axes", name + "In"}) {
                const int at = change().kind->indexOf(parameter);
                if (at >= 0 && applies(change().kind->parameters[static_cast<std::size_t>(at)], change())) pair.push_back(parameter);
            }
            return pair;
        });
        if (!pair.empty()) addSideBySide(subject(), pair, channel.label);
        std::vector<std::string> own;
        for (const Parameter& p : change().kind->parameters)
            for (const Condition& condition : p.when)
                if (condition.parameter == name) own.push_back(p.id);
        if (!own.empty()) addRows(subject(), "change", {"strength", "place", name + "Mode", name + "Axes", name + "In"}, own);
    }

    /// A named value can only be changed where there is one: the first is made with the channel, in one step.
    void switchChannel(const char* channel, bool on) {
        document().edit([&](const Scene& scene) {
            const ObjectId gesture = subject();
            Edit edit = setValue(scene, addressOf(scene, gesture, channel), on);
            const std::string label = edit.label;
            const ObjectId swarm = document().swarm();
            const bool value = std::string_view(channel) == "value" && on && swarm;
            if (value && !scene.find(referenceOf(scene.at(gesture).part("change"), "valueOf"))) {
                const auto& values = scene.at(swarm).list("namedValues");
                ObjectId first = values.empty() ? ObjectId{} : values.front();
                if (!first) {
                    edit = addNamedValue(edit.scene, swarm, "amount");
                    first = edit.made;
                }
                edit = setValue(edit.scene, addressOf(edit.scene, gesture, "valueOf"), first);
            }
            edit.label = label;
            edit.mergeKey.clear();
            edit.made = {};
            return edit;
        });
        document().seal();
    }
};

}  // namespace

Question* whatChanges(SettingsDesk& desk, const Subject& gesture) { return new WhatChanges(desk, gesture); }
