#include "app/export/export_kinds.h"

#include <QContextMenuEvent>
#include <QFile>
#include <QMenu>
#include <QSignalBlocker>

#include "app/theme/theme.h"
#include "core/base/error.h"

using namespace gswarm;

namespace {

constexpr int kindRole = Qt::UserRole, presetRole = Qt::UserRole + 1;

}  // namespace

ExportKinds::ExportKinds(QWidget* parent) : QListWidget(parent) {
    setObjectName("exportKinds");
    setAccessibleName("What is written");
    setFrameShape(QFrame::NoFrame);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setTextElideMode(Qt::ElideRight);
    setUniformItemSizes(true);
    setSelectionMode(QAbstractItemView::ExtendedSelection);
    setEditTriggers(QAbstractItemView::EditKeyPressed);
    setStyleSheet(
        "QListWidget { background: #1e1a15; } QListWidget::item { padding-left: 12px; border-left: 2px solid transparent; } "
        "QListWidget::item:selected { background: #29241d; "
        "border-left-color: #d9a441; color: #ece3d2; } QListWidget::item:hover:!selected:enabled { background: #29241d; }");
    fill();
    take(stillExporter);
    connect(this, &QListWidget::itemSelectionChanged, this, &ExportKinds::choosing);
    connect(this, &QListWidget::itemChanged, this, &ExportKinds::renamed);
}

// ---- its rows

void ExportKinds::addTitle(const QString& text) {
    auto* title = new QListWidgetItem(text, this);
    title->setFlags(Qt::NoItemFlags);
    title->setFont(theme::text(12, QFont::DemiBold));
    title->setForeground(theme::quiet);
    title->setSizeHint({0, 28});
}

QListWidgetItem* ExportKinds::addRow(const QString& text, const QString& tip) {
    auto* item = new QListWidgetItem(text, this);
    item->setToolTip(tip);
    item->setSizeHint({0, 28});
    return item;
}

void ExportKinds::fill() {
    const QSignalBlocker quiet(this);
    clear();
    QStringList troubles;
    presets_ = export_presets::all(troubles);
    if (!presets_.empty()) addTitle("Yours");
    for (const ExportPreset& preset : presets_) {
        QStringList formats;
        for (const Part& format : preset.formats) formats << QString::fromStdString(format.kind->label);
        auto* item = addRow(preset.name, formats.join(", ") + ". F2 renames it; a right click has more.");
        item->setData(presetRole, QString::fromStdString(preset.file.string()));
        item->setFlags(item->flags() | Qt::ItemIsEditable);
    }
    for (const ExportGroup group : {ExportGroup::pictures, ExportGroup::video, ExportGroup::geometry, ExportGroup::tables}) {
        addTitle(exportGroupNames[static_cast<int>(group)]);
        for (const ExporterKind* kind : exporters())
            if (kind->group == group)
                addRow(QString::fromStdString(kind->label), QString::fromStdString(kind->label + ". " + kind->summary))
                    ->setData(kindRole, QString::fromStdString(kind->id));
    }
    for (const QString& sentence : troubles) emit trouble(sentence);
}

const ExportPreset* ExportKinds::presetOf(const QListWidgetItem* item) const {
    const std::string file = item ? item->data(presetRole).toString().toStdString() : std::string();
    for (const ExportPreset& preset : presets_)
        if (!file.empty() && preset.file == file) return &preset;
    return nullptr;
}

// ---- choosing

std::vector<const ExporterKind*> ExportKinds::kinds() const {
    std::vector<const ExporterKind*> found;
    const auto add = [&](const ExporterKind* kind) {
        if (std::find(found.begin(), found.end(), kind) == found.end()) found.push_back(kind);
    };
    for (int row = 0; row < count(); ++row) {
        if (!item(row)->isSelected()) continue;
        if (const ExportPreset* preset = presetOf(item(row)))
            for (const Part& format : preset->formats) add(static_cast<const ExporterKind*>(format.kind));
        else
            add(findExporter(item(row)->data(kindRole).toString().toStdString()));
    }
    return found;
}

void ExportKinds::take(const ExporterKind& kind) {
    for (int row = 0; row < count(); ++row)
        if (item(row)->data(kindRole).toString().toStdString() == kind.id) choose(item(row));
}

void ExportKinds::choose(QListWidgetItem* item) { setCurrentItem(item, QItemSelectionModel::ClearAndSelect); }

/// Something is chosen always: what was taken out of the choice last comes back.
void ExportKinds::choosing() {
    const auto items = selectedItems();
    if (items.isEmpty()) {
        if (currentItem()) currentItem()->setSelected(true);
        return;
    }
    emit chosen();
    if (items.size() == 1)
        if (const ExportPreset* preset = presetOf(items.front())) emit presetChosen(*preset);
}

// ---- what is kept

void ExportKinds::keep(ExportPreset preset) {
    try {
        export_presets::keep(preset);
    } catch (const Error& error) {
        emit trouble(QString::fromUtf8(error.what()));
        return;
    }
    const bool fresh = std::none_of(presets_.begin(), presets_.end(), [&](const ExportPreset& one) { return one.file == preset.file; });
    fill();
    for (int row = 0; row < count(); ++row) {
        if (item(row)->data(presetRole).toString().toStdString() != preset.file) continue;
        choose(item(row));
        scrollToItem(item(row));
        if (fresh) editItem(item(row));
        return;
    }
}

void ExportKinds::renamed(const QListWidgetItem* item) {
    const ExportPreset* known = presetOf(item);
    const QString name = item->text().trimmed();
    if (!known || name == known->name) return;
    ExportPreset preset = *known;
    if (!name.isEmpty()) preset.name = name;
    // Its place in the list may be another one, which the editor that is still open must not see.
    QMetaObject::invokeMethod(
        this, [this, preset] { keep(preset); }, Qt::QueuedConnection);
}

void ExportKinds::forget(const ExportPreset& preset) {
    QFile file(QString::fromStdString(preset.file.string()));
    if (!file.moveToTrash())
        emit trouble("“" + QString::fromStdString(preset.file.string()) + "” can't be moved to the waste bin; delete the file itself.");
    fill();
    take(stillExporter);
}

void ExportKinds::contextMenuEvent(QContextMenuEvent* event) {
    QListWidgetItem* item = itemAt(event->pos());
    const ExportPreset* known = presetOf(item);
    if (!known) return;
    const ExportPreset preset = *known;
    QMenu menu(this);
    menu.setObjectName("exportPresetMenu");
    const QAction* rename = menu.addAction("Rename");
    const QAction* again = menu.addAction("Keep the settings as they are now");
    const QAction* away = menu.addAction("Take it away; the file goes to the waste bin");
    const QAction* taken = menu.exec(event->globalPos());
    if (!taken) return;
    if (taken == rename)
        editItem(item);
    else if (taken == again)
        emit presetAsked(preset);
    else if (taken == away)
        forget(preset);
}

/// Other windows may have kept some.
void ExportKinds::showEvent(QShowEvent* event) {
    QListWidget::showEvent(event);
    QStringList troubles;
    const std::vector<ExportPreset> now = export_presets::all(troubles);
    const auto same = [](const ExportPreset& a, const ExportPreset& b) { return a.file == b.file && a.name == b.name; };
    if (std::equal(now.begin(), now.end(), presets_.begin(), presets_.end(), same)) return;
    const auto before = kinds();
    fill();
    take(before.empty() ? stillExporter : *before.front());
}
