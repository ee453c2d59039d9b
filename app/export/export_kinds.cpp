#include "app/export/export_kinds.h"

#include "app/theme/theme.h"

using namespace gswarm;

ExportKinds::ExportKinds(QWidget* parent) : QListWidget(parent) {
    setObjectName("exportKinds");
    setAccessibleName("What is written");
    setFrameShape(QFrame::NoFrame);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setTextElideMode(Qt::ElideRight);
    setUniformItemSizes(true);
    setStyleSheet(
        "QListWidget { background: #1e1a15; } QListWidget::item { padding-left: 12px; border-left: 2px solid transparent; } "
        "QListWidget::item:selected { background: #29241d; "
        "border-left-color: #d9a441; color: #ece3d2; } QListWidget::item:hover:!selected:enabled { background: #29241d; }");
    for (const ExportGroup group : {ExportGroup::pictures, ExportGroup::video, ExportGroup::geometry, ExportGroup::tables}) {
        auto* title = new QListWidgetItem(exportGroupNames[static_cast<int>(group)], this);
        title->setFlags(Qt::NoItemFlags);
        title->setFont(theme::text(12, QFont::DemiBold));
        title->setForeground(theme::quiet);
        title->setSizeHint({0, 28});
        for (const ExporterKind* kind : exporters()) {
            if (kind->group != group) continue;
            auto* item = new QListWidgetItem(QString::fromStdString(kind->label), this);
            item->setData(Qt::UserRole, QString::fromStdString(kind->id));
            item->setToolTip(QString::fromStdString(kind->label + ". " + kind->summary));
            item->setSizeHint({0, 28});
        }
    }
    take(stillExporter);
    connect(this, &QListWidget::currentItemChanged, this, [this](QListWidgetItem* now) {
        if (now) emit chosen(kind());
    });
}

const ExporterKind& ExportKinds::kind() const { return *findExporter(currentItem()->data(Qt::UserRole).toString().toStdString()); }

void ExportKinds::take(const ExporterKind& kind) {
    for (int row = 0; row < count(); ++row)
        if (item(row)->data(Qt::UserRole).toString().toStdString() == kind.id) setCurrentRow(row);
}
