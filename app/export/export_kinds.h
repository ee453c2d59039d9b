#pragma once
#include <QListWidget>

#include "core/exchange/exporter_kind.h"

/// What can be written, by its plain name in four groups.
class ExportKinds : public QListWidget {
    Q_OBJECT

  public:
    explicit ExportKinds(QWidget* parent);

    const gswarm::ExporterKind& kind() const;
    void take(const gswarm::ExporterKind& kind);

  signals:
    void chosen(const gswarm::ExporterKind& kind);
};
