#pragma once
#include <map>
#include <QScrollArea>

#include "app/document/document.h"

class Evaluation;
namespace gswarm {
struct Census;
}
class FormationPicker;
class Section;
class ParameterRow;
class QComboBox;
class QLabel;
class QLineEdit;
class QVBoxLayout;

/// The channels a change can have on, in the order of their buttons.
struct Channel {
    const char *id, *label, *icon;
};
inline constexpr Channel changeChannels[] = {
    {"position", "Position", "position"}, {"rotation", "Rotation", "rotation"}, {"scale", "Scale", "scale"}, {"colour", "Colour", "colour"},
    {"shape", "Shape", "shape-by"},       {"showing", "Shown", "showing"},      {"time", "Time", "time"},    {"value", "Value", "number"}};

inline QString said(const std::string& text) { return QString::fromStdString(text); }

/// Settings of what is chosen. A gesture answers five questions in order; anything else shows the rows of its tables.
/// Rows are made anew only when other rows are wanted; otherwise they just show the new values.
class Settings : public QWidget {
    Q_OBJECT

  public:
    Settings(Document& document, Evaluation& evaluation, QWidget* parent);
    /// The formations as small pictures, under the button of the formation that is shown.
    void pickFormation();
    /// Closes or opens all sections of that title, now and later.
    void setSectionOpen(const QString& title, bool open);
    /// A new zone as the last entry of the gesture's weave, unfolded.
    void makeZone(gswarm::ObjectId gesture, const gswarm::Kind& kind);
    /// What the rows stand for, folded or not, and the keyboard on one of them.
    std::vector<gswarm::Address> addresses() const;
    void reach(const gswarm::Address& address);

  signals:
    void trouble(const QString& sentence);

  private:
    void refresh();
    void refreshValues();
    void rebuild();
    std::string signature() const;
    void showGesture(const gswarm::Object& gesture);
    void showSwarm(const gswarm::Object& swarm);
    void showFormation(const gswarm::Object& swarm);
    void addVersions(Section* section, const gswarm::Object& swarm);
    void addTold(Section* section, gswarm::ObjectId swarm);
    void showStock(const gswarm::Object& swarm);
    void showMaker(const gswarm::Object& shape);
    std::vector<gswarm::ObjectId> shapesOfFormation(gswarm::ObjectId formation) const;
    void addStockRow(Section* section, const gswarm::Object& swarm, gswarm::ObjectId entry);
    void showShape(const gswarm::Object& shape);
    void openPicker(gswarm::ObjectId formation, QWidget* under);
    void showPlain(const gswarm::Object& object);
    Section* addSection(const QString& title);
    void addRows(Section* section, gswarm::ObjectId object, const std::string& slot, const std::vector<std::string>& leftOut = {},
                 const std::vector<std::string>& just = {});
    void addChannels(Section* section, const gswarm::Object& gesture);
    void addChannelRows(Section* section, gswarm::ObjectId gesture, std::vector<std::string> leftOut);
    void switchChannel(gswarm::ObjectId gesture, const char* channel, bool on);
    void addShared(Section* section, gswarm::ObjectId gesture);
    void addDrivenTold(Section* section, gswarm::ObjectId gesture);
    void addResponses(Section* section, const gswarm::Object& gesture);
    void addSideBySide(Section* section, gswarm::ObjectId object, const std::vector<std::string>& parameters, const QString& common);
    void addCurve(Section* section, gswarm::ObjectId gesture);
    void drawCurve(gswarm::ObjectId gesture, const std::string& slot, const gswarm::CurvePoints& points);
    void addNamedValues(const gswarm::Object& swarm);
    void addKindChoice(Section* section, gswarm::ObjectId object, const std::string& slot, const QString& label);
    void addWeave(Section* section, const gswarm::Object& gesture);
    void addEntries(Section* section, const std::vector<gswarm::ObjectId>& entries, int depth);
    void addWeaveRow(Section* section, gswarm::ObjectId entry, bool first, int depth);
    void unfold(gswarm::ObjectId entry, gswarm::ObjectId zone);
    std::vector<float> weaveSamples(gswarm::ObjectId entry) const;
    void showWeaveMenu(gswarm::ObjectId entry, const QPoint& at);
    void showZoneMenu(gswarm::ObjectId gesture, const QPoint& at);
    void addZoneButtons(Section* section, gswarm::ObjectId gesture);
    void addTiming(Section* section, const gswarm::Object& gesture);
    void addGrowthEase(Section* section, gswarm::ObjectId gesture);
    std::pair<QString, int> focusedPlace() const;
    void focusPlace(const QString& row, int field);
    /// What the card of a gesture did in the latest evaluation; null if that is not known.
    std::shared_ptr<const gswarm::Census> censusOf(gswarm::ObjectId gesture) const;
    QString whereSummary(const gswarm::Object& gesture) const;
    QString changeSummary(const gswarm::Object& gesture) const;
    QString whenSummary(const gswarm::Object& gesture) const;

    Document& document_;
    Evaluation& evaluation_;
    FormationPicker* picker_ = nullptr;
    QScrollArea* scroll_;
    QLineEdit* name_;
    QLabel* type_;
    QWidget* content_ = nullptr;
    QVBoxLayout* column_ = nullptr;
    std::string signature_;
    std::vector<ParameterRow*> rows_;
    std::vector<std::pair<Section*, std::function<QString()>>> summaries_;
    std::vector<std::function<void()>> told_;  ///< lines that say what the last evaluation found
    std::map<QString, bool> open_;
    std::string shapedSlot_ = "where";  ///< which of a gesture's responses is shown
    gswarm::ObjectId unfolded_;         ///< the weave entry or stock entry whose things are shown in place
};
