#pragma once
#include <map>
#include <QScrollArea>

#include "app/document/document.h"

class Section;
class ParameterRow;
class QComboBox;
class QLabel;
class QLineEdit;
class QVBoxLayout;

/// Settings of what is chosen. A gesture answers five questions in order; anything else shows the rows of its tables.
/// Rows are made anew only when other rows are wanted; otherwise they just show the new values.
class Settings : public QWidget {
    Q_OBJECT

  public:
    Settings(Document& document, QWidget* parent);
    /// Closes or opens all sections of that title, now and later.
    void setSectionOpen(const QString& title, bool open);

  signals:
    void trouble(const QString& sentence);

  private:
    void refresh();
    void rebuild();
    std::string signature() const;
    void showGesture(const gswarm::Object& gesture);
    void showSwarm(const gswarm::Object& swarm);
    void showFormation(gswarm::ObjectId formation);
    void showStock(const gswarm::Object& swarm);
    void showPlain(const gswarm::Object& object);
    Section* addSection(const QString& title);
    void addRows(Section* section, gswarm::ObjectId object, const std::string& slot, const std::vector<std::string>& leftOut = {},
                 const std::vector<std::string>& just = {});
    void addChannels(Section* section, const gswarm::Object& gesture);
    void addKindChoice(Section* section, gswarm::ObjectId object, const std::string& slot, const QString& label);
    void addWeave(Section* section, const gswarm::Object& gesture);
    void addWeaveRow(Section* section, gswarm::ObjectId entry, bool first);
    void addZoneButtons(Section* section, gswarm::ObjectId gesture);
    void addTiming(Section* section, const gswarm::Object& gesture);
    std::pair<QString, int> focusedPlace() const;
    void focusPlace(const QString& row, int field);
    QString whereSummary(const gswarm::Object& gesture) const;
    QString changeSummary(const gswarm::Object& gesture) const;
    QString whenSummary(const gswarm::Object& gesture) const;

    Document& document_;
    QScrollArea* scroll_;
    QLineEdit* name_;
    QLabel* type_;
    QWidget* content_ = nullptr;
    QVBoxLayout* column_ = nullptr;
    std::string signature_;
    std::vector<ParameterRow*> rows_;
    std::vector<std::pair<Section*, std::function<QString()>>> summaries_;
    std::map<QString, bool> open_;
    gswarm::ObjectId unfolded_;  ///< the weave entry whose zone is shown in place
};
