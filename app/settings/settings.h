#pragma once
#include <QWidget>

#include "app/settings/questions.h"

class QLabel;
class QLineEdit;
class QScrollArea;
class QVBoxLayout;
class Section;

/// Settings of what is chosen, as questions in order. Which there are is said here; each makes its own rows.
class Settings : public QWidget {
    Q_OBJECT

  public:
    Settings(Document& document, Evaluation& evaluation, QWidget* parent);
    /// The formations as small pictures, under the button of the formation that is shown.
    void pickFormation();
    /// Closes or opens all sections of that title, now and later.
    void setSectionOpen(const QString& title, bool open);
    /// A new zone as the last entry of the gesture's weave, unfolded.
    void makeZone(gswarm::ObjectId gesture, const gswarm::Kind& kind) { desk_.makeZone(gesture, kind); }
    /// What the rows stand for, folded or not, and the keyboard on one of them.
    std::vector<gswarm::Address> addresses() const;
    void reach(const gswarm::Address& address);
    /// From top to bottom.
    std::vector<Section*> sections() const;

  signals:
    void trouble(const QString& sentence);
    void helpAsked(const QString& section);

  private:
    struct Asked {
        MakeQuestion make;
        Subject subject;
        bool operator==(const Asked&) const = default;
    };
    std::vector<Asked> asked() const;
    std::vector<Asked> askedOfShape(gswarm::ObjectId shape) const;
    std::vector<Asked> askedOfSeveral() const;
    std::vector<Asked> askedOfSwarm(const gswarm::Object& swarm) const;
    std::vector<Asked> askedOfFormation(const gswarm::Object& swarm) const;
    std::vector<Asked> askedOfStock(const gswarm::Object& swarm) const;
    void refresh();
    void refreshValues();
    void showHead();
    /// Questions that are still asked stay as they are. True if any came or went.
    bool arrange(const std::vector<Asked>& asked);
    /// Tab goes from row to row as they stand, whichever was made last.
    void orderTabs();

    Document& document_;
    SettingsDesk desk_;
    QScrollArea* scroll_;
    QLineEdit* name_;
    QLabel* type_;
    QLabel* hint_;
    QVBoxLayout* column_;
    std::vector<std::pair<Asked, Question*>> questions_;
};
