#pragma once
#include <optional>
#include <QListWidget>

#include "app/export/export_presets.h"

/// What can be written, in groups, with what the person has kept on top. Several may be chosen at once.
class ExportKinds : public QListWidget {
    Q_OBJECT

  public:
    explicit ExportKinds(QWidget* parent);
    /// Those that are chosen, in the order of the list; at least one.
    std::vector<const gswarm::ExporterKind*> kinds() const;
    void take(const gswarm::ExporterKind& kind);
    /// Keeps a preset, chooses it and asks for its name in place.
    void keep(ExportPreset preset);

  signals:
    void chosen();
    /// One of the presets, alone.
    void presetChosen(const ExportPreset& preset);
    /// The settings are to be kept in a preset as they are now.
    void presetAsked(const ExportPreset& preset);
    /// What went wrong with what is kept.
    void trouble(const QString& sentence);

  protected:
    void contextMenuEvent(QContextMenuEvent* event) override;
    void showEvent(QShowEvent* event) override;

  private:
    void fill();
    void addTitle(const QString& text);
    QListWidgetItem* addRow(const QString& text, const QString& tip);
    const ExportPreset* presetOf(const QListWidgetItem* item) const;
    void choose(QListWidgetItem* item);
    void choosing();
    void renamed(const QListWidgetItem* item);
    void forget(const ExportPreset& preset);

    std::vector<ExportPreset> presets_;
};
