#pragma once
#include <QKeySequence>
#include <QObject>
#include <vector>

#include "app/window/commands.h"

class QShortcut;
class QWidget;

/// The shortcuts of the commands, the usual ones or a person's own, which are kept for all projects.
class Shortcuts : public QObject {
    Q_OBJECT

  public:
    Shortcuts(const std::vector<Command>& commands, QWidget* window);
    const std::vector<Command>& commands() const { return commands_; }
    QKeySequence of(const QString& command) const;
    /// Empty takes it away. Says which command has the keys already, and changes nothing then; empty where all is well.
    QString set(const QString& command, const QKeySequence& keys);
    /// All as they are when the program is new.
    void reset();
    /// Does the command whose keys a key press are; of keys that fields want for themselves, once none has taken them.
    bool press(const QKeySequence& keys) const;

  signals:
    void changed();

  private:
    void connectKeys();

    const std::vector<Command>& commands_;
    QWidget* window_;
    std::vector<QShortcut*> shortcuts_;
};
