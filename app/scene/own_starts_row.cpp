#include "app/scene/own_starts_row.h"

#include <algorithm>
#include <QFile>
#include <QGridLayout>
#include <QLabel>
#include <QMenu>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/document/own_starts.h"
#include "app/scene/picture_of.h"
#include "app/scene/small_pictures.h"
#include "app/theme/retire.h"
#include "app/theme/theme.h"
#include "core/exchange/start_files.h"

using namespace gswarm;

namespace {

/// Changes with the file, so that one kept anew has its picture made anew.
QString keyOf(const OwnStart& own) { return QString::fromStdString(own.path.string()) + " " + QString::number(own.written); }

}  // namespace

OwnStartsRow::OwnStartsRow(std::vector<StartOf> of, int columns, QWidget* parent)
    : QWidget(parent), of_(std::move(of)), columns_(columns), pictures_(new SmallPictures(this)) {
    setObjectName("ownStarts");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 4, 0, 0);
    column->setSpacing(4);
    auto* title = new QLabel("Kept by you", this);
    title->setStyleSheet("color: #a3967f;");
    column->addWidget(title);
    grid_ = new QGridLayout;
    grid_->setSpacing(4);
    grid_->setAlignment(Qt::AlignLeft);
    column->addLayout(grid_);
    troubles_ = new QLabel(this);
    troubles_->setObjectName("ownStartTroubles");
    troubles_->setWordWrap(true);
    troubles_->setStyleSheet("color: " + theme::coral.name() + ";");
    column->addWidget(troubles_);
    connect(pictures_, &SmallPictures::made, this, [this](const QString& key, const QImage& made) {
        for (auto* tile : findChildren<QToolButton*>())
            if (tile->property("picture") == key) tile->setIcon(QPixmap::fromImage(made));
    });
}

void OwnStartsRow::refresh() {
    std::map<QString, QIcon> known;
    for (auto* tile : findChildren<QToolButton*>()) {
        known[tile->property("picture").toString()] = tile->icon();
        grid_->removeWidget(tile);
        tile->setParent(nullptr);
        retire(tile);  // its menu may just have asked for this
    }
    QStringList troubles;
    int n = 0;
    for (const OwnStart& own : ownStarts()) {
        if (!own.start) {
            troubles << own.trouble;
            continue;
        }
        if (std::find(of_.begin(), of_.end(), own.start->of) == of_.end()) continue;
        const QString name = QString::fromStdString(own.start->name), key = keyOf(own);
        auto* tile = new QToolButton(this);
        tile->setObjectName("own-" + name);
        tile->setProperty("picture", key);
        tile->setText(tile->fontMetrics().elidedText(name, Qt::ElideRight, tilePicture.width()));
        tile->setAccessibleName(name);
        tile->setToolTip(
            QString("%1: the %2 you kept. A right click takes it out of here.").arg(name, startOfNames[static_cast<int>(own.start->of)]));
        tile->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
        tile->setIconSize(tilePicture);
        tile->setFixedSize(tilePicture.width() + 16, tilePicture.height() + 28);
        tile->setIcon(known.contains(key) ? known[key] : theme::icon("swarm", theme::quiet));
        tile->setStyleSheet(theme::tileStyle());
        tile->setContextMenuPolicy(Qt::CustomContextMenu);
        grid_->addWidget(tile, n / columns_, n % columns_);
        ++n;
        connect(tile, &QToolButton::clicked, this, [this, path = own.path] { emit taken(path); });
        connect(tile, &QWidget::customContextMenuRequested, this,
                [this, tile, path = own.path](const QPoint& at) { askMenu(path, tile->mapToGlobal(at)); });
        if (!known.contains(key))
            pictures_->ask(key, [own](Progress& progress) { return pictureOf(*own.start, own.path.parent_path(), tilePicture, progress); });
    }
    troubles_->setText(troubles.join("\n"));
    troubles_->setVisible(!troubles.isEmpty());
    setVisible(n > 0 || !troubles.isEmpty());
}

void OwnStartsRow::askMenu(const std::filesystem::path& path, const QPoint& global) {
    QMenu menu(this);
    menu.setObjectName("ownStartMenu");
    const QAction* away = menu.addAction("Take it out of my galleries; the file goes to the waste bin");
    if (menu.exec(global) != away) return;
    QString stays;
    for (const std::filesystem::path& one : {path, filesBesideStart(path)}) {
        QFile file(QString::fromStdString(one.string()));
        if (stays.isEmpty() && file.exists() && !file.moveToTrash()) stays = QString::fromStdString(one.filename().string());
    }
    refresh();
    if (stays.isEmpty()) return;
    troubles_->setText("“" + stays + "” can't be moved to the waste bin; delete it itself.");
    troubles_->show();
}
