#pragma once
#include <optional>
#include <QObject>

#include "app/export/export_job.h"

class Document;
class NumberField;
class QComboBox;
class QFormLayout;
class QWidget;

/// The rows that say of what is written: which swarms are shown, or whose numbers; through which camera; which frames.
class ExportScope : public QObject {
    Q_OBJECT

  public:
    ExportScope(Document& document, QFormLayout* form, QWidget* parent);

    /// Names and selection as they are now, which it follows while it is seen.
    void refresh();
    /// The rows that mean something for some of the kinds are there.
    void showFor(const std::vector<const gswarm::ExporterKind*>& kinds);
    gswarm::FrameRange range() const;
    void setEvery(int every);
    /// Says to a job of what it is.
    void tell(ExportJob& job) const;

  signals:
    void changed();
    void trouble(const QString& sentence);

  private:
    QComboBox* choice(const char* name, const QString& label);
    NumberField* number(const char* id, const char* label, gswarm::Range hard, gswarm::Range suggested, QWidget* parent);
    void showFrames();
    /// The swarms of what is selected, the one whose rail is shown where none is.
    std::vector<gswarm::ObjectId> selected() const;

    Document& document_;
    QFormLayout* form_;
    QComboBox *shown_, *swarm_, *camera_;
    QWidget* frames_;  ///< the row of the first and the last frame
    NumberField *first_, *last_, *every_;
    std::optional<gswarm::FrameRange> project_;  ///< the project's own, as it was shown last
};
