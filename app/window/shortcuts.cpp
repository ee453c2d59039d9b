#include "app/window/shortcuts.h"

#include <algorithm>
#include <QSettings>
#include <QShortcut>
#include <QWidget>

namespace {

QString keyOf(const QString& command) { return "shortcuts/" + command; }

/// Keys that text and number fields, lists and rows of keys need themselves.
bool fieldsWant(const QKeySequence& keys) { return keys == QKeySequence(Qt::Key_Delete) || keys == QKeySequence(Qt::Key_F2); }

}  // namespace

Shortcuts::Shortcuts(const std::vector<Command>& commands, QWidget* window) : QObject(window), commands_(commands), window_(window) {
    connectKeys();
}

QKeySequence Shortcuts::of(const QString& command) const {
    const auto found = std::find_if(commands_.begin(), commands_.end(), [&](const Command& c) { return c.id == command; });
    if (found == commands_.end()) return {};
    return QKeySequence(QSettings().value(keyOf(command), found->shortcut).toString());
}

void Shortcuts::connectKeys() {
    qDeleteAll(shortcuts_);
    shortcuts_.clear();
    for (const Command& command : commands_) {
        const QKeySequence keys = of(command.id);
        if (keys.isEmpty() || fieldsWant(keys)) continue;
        auto* shortcut = new QShortcut(keys, window_);
        shortcuts_.push_back(shortcut);
        connect(shortcut, &QShortcut::activated, this, [&command] {
            if (command.possible()) command.act();
        });
    }
}

bool Shortcuts::press(const QKeySequence& keys) const {
    for (const Command& command : commands_)
        if (fieldsWant(keys) && of(command.id) == keys && command.possible()) return command.act(), true;
    return false;
}

QString Shortcuts::set(const QString& command, const QKeySequence& keys) {
    if (!keys.isEmpty())
        for (const Command& other : commands_)
            if (other.id != command && of(other.id) == keys) return other.label;
    QSettings().setValue(keyOf(command), keys.toString());
    connectKeys();
    emit changed();
    return {};
}

void Shortcuts::reset() {
    QSettings().remove("shortcuts");
    connectKeys();
    emit changed();
}
