#pragma once
#include <map>
#include <memory>

#include "app/document/document.h"

class Evaluation;
namespace gswarm {
struct Census;
}

inline QString said(const std::string& text) { return QString::fromStdString(text); }

/// What all questions of the settings work with, and what stays as it was when their rows are made anew.
class SettingsDesk : public QObject {
    Q_OBJECT

  public:
    SettingsDesk(Document& document, Evaluation& evaluation) : document(document), evaluation(evaluation) {}

    /// Shows the things of a weave entry or stock entry in place; of a weave entry's zone also its handles.
    void unfold(gswarm::ObjectId entry, gswarm::ObjectId zone = {});
    gswarm::ObjectId unfolded() const { return unfolded_; }
    /// A new zone as the last entry of the gesture's weave, unfolded.
    void makeZone(gswarm::ObjectId gesture, const gswarm::Kind& kind);
    /// What the card of a gesture did in the latest evaluation; null if that is not known.
    std::shared_ptr<const gswarm::Census> censusOf(gswarm::ObjectId gesture) const;

    Document& document;
    Evaluation& evaluation;
    std::map<QString, bool> open;  ///< sections that were opened or closed, by title

  signals:
    void unfoldedChanged();
    /// One sentence about what could not be done.
    void trouble(const QString& sentence);
    /// A section's place in the guide is wanted.
    void helpAsked(const QString& section);

  private:
    gswarm::ObjectId unfolded_;
};
