#pragma once
#include <map>
#include <QObject>

#include "core/exchange/exporter_kind.h"

class Document;
class NumberField;
class QFormLayout;
class QWidget;

/// The rows of what exporters ask for, in a form. Exporters that call a setting the same share its row, and what was typed there.
class ExportSettings : public QObject {
    Q_OBJECT

  public:
    ExportSettings(Document& document, QFormLayout* form, QWidget* parent);

    /// The rows that some of the kinds have and that mean something now are there.
    void showFor(const std::vector<const gswarm::ExporterKind*>& kinds);
    /// What is typed, chosen and switched.
    gswarm::Part of(const gswarm::ExporterKind& kind) const;
    void take(const gswarm::Part& settings);

  signals:
    void changed();
    /// What was typed is no number that may stand there.
    void trouble(const QString& sentence);

  private:
    QWidget* fieldFor(const gswarm::Parameter& parameter);
    void followProject(const gswarm::Parameter& parameter, NumberField* field);
    gswarm::Value typed(const gswarm::Parameter& parameter) const;

    Document& document_;
    QFormLayout* form_;
    QWidget* parent_;
    std::map<std::string, QWidget*> fields_;  ///< by the settings' ids
};

/// A whole number of an export, called "exportFirst" after its id.
NumberField* exportNumber(Document& document, const gswarm::Parameter& parameter, QWidget* parent);
