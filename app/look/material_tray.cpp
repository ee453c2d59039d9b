#include "app/look/material_tray.h"

#include <QApplication>
#include <QDrag>
#include <QHBoxLayout>
#include <QMimeData>
#include <QMouseEvent>
#include <QToolButton>

#include "app/document/document.h"
#include "app/document/own_starts.h"
#include "app/fields/drop_target.h"
#include "app/scene/material_gallery.h"
#include "app/scene/picture_of.h"
#include "app/scene/small_pictures.h"
#include "app/theme/retire.h"
#include "app/theme/theme.h"

using namespace gswarm;

namespace {

constexpr int trayHeight = 76;
constexpr QSize trayPicture{88, 42};

}  // namespace

MaterialTray::MaterialTray(Document& document, QWidget* parent)
    : QScrollArea(parent), document_(document), pictures_(new SmallPictures(this)) {
    setObjectName("materialTray");
    setFixedHeight(trayHeight);
    setWidgetResizable(true);
    setFrameShape(QFrame::NoFrame);
    setFocusPolicy(Qt::NoFocus);
    setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* inside = new QWidget;
    inside->setObjectName("materialTrayInside");
    inside->setStyleSheet("#materialTrayInside { background: #15120e; }");
    row_ = new QHBoxLayout(inside);
    row_->setContentsMargins(8, 2, 8, 2);
    row_->setSpacing(4);
    add_ = new QToolButton(inside);
    add_->setObjectName("addMaterial");
    add_->setIcon(theme::icon("plus"));
    add_->setToolTip("A new material, from pictures");
    add_->setAccessibleName("Add a material");
    add_->setFixedSize(28, 68);
    row_->addWidget(add_);
    row_->addStretch(1);
    setWidget(inside);
    connect(add_, &QToolButton::clicked, this, &MaterialTray::openGallery);
    connect(&document_, &Document::sceneChanged, this, &MaterialTray::refresh);
    connect(&document_, &Document::chosenChanged, this, &MaterialTray::refresh);
    connect(pictures_, &SmallPictures::made, this, [this](const QString& key, const QImage& made) {
        for (auto* tile : findChildren<QToolButton*>())
            if (tile->property("picture") == key) tile->setIcon(QPixmap::fromImage(made));
    });
    settle_.setSingleShot(true);
    settle_.setInterval(150);
    connect(&settle_, &QTimer::timeout, this, &MaterialTray::askPictures);
}

ObjectId MaterialTray::materialOf(const QObject* tile) const {
    const auto all = document_.scene().all(ObjectType::material);
    const int number = tile->property("number").toInt();
    return number >= 0 && number < static_cast<int>(all.size()) ? all[static_cast<std::size_t>(number)] : ObjectId{};
}

/// Nothing is done for it while it is not seen.
void MaterialTray::refresh() {
    if (!isVisible()) return;
    const Scene& scene = document_.scene();
    const auto all = scene.all(ObjectType::material);
    // Tiles stay and are told anew, so that a press and its click meet the same one.
    std::vector<QToolButton*> tiles;
    for (auto* tile : widget()->findChildren<QToolButton*>(Qt::FindDirectChildrenOnly))
        if (tile != add_) tiles.push_back(tile);
    while (tiles.size() > all.size()) {
        row_->removeWidget(tiles.back());
        tiles.back()->setParent(nullptr);
        retire(tiles.back());
        tiles.pop_back();
    }
    while (tiles.size() < all.size()) {
        auto* tile = new QToolButton(widget());
        tile->setObjectName(QString("tray-%1").arg(tiles.size() + 1));
        tile->setProperty("number", static_cast<int>(tiles.size()));
        tile->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
        tile->setCheckable(true);
        tile->setIconSize(trayPicture);
        tile->setFixedSize(trayPicture.width() + 12, 68);
        tile->setStyleSheet(theme::tileStyle());
        tile->installEventFilter(this);
        connect(tile, &QToolButton::clicked, this, [this, tile] {
            if (const ObjectId material = materialOf(tile)) document_.choose(material);
            refresh();
        });
        row_->insertWidget(static_cast<int>(tiles.size()), tile);
        tiles.push_back(tile);
    }
    for (std::size_t k = 0; k < all.size(); ++k) {
        QToolButton* tile = tiles[k];
        const QString name = QString::fromStdString(scene.at(all[k]).name);
        tile->setText(tile->fontMetrics().elidedText(name, Qt::ElideRight, trayPicture.width() + 4));
        tile->setAccessibleName(name);
        tile->setToolTip(name + ": click for its settings, drag it onto what is to wear it");
        tile->setChecked(all[k] == document_.chosen());
    }
    settle_.start();
}

void MaterialTray::askPictures() {
    const Scene& scene = document_.scene();
    const auto all = scene.all(ObjectType::material);
    for (std::size_t k = 0; k < all.size(); ++k) {
        auto* tile = findChild<QToolButton*>(QString("tray-%1").arg(k + 1));
        const QString key = pictureKey(scene, all[k]);
        if (!tile || tile->property("picture") == key) continue;
        tile->setProperty("picture", key);
        pictures_->ask(key, [scene, id = all[k], folder = document_.folder()](Progress& progress) {
            return ::pictureOf(scene, id, folder, trayPicture, progress);
        });
    }
}

void MaterialTray::openGallery() {
    if (!gallery_) {
        gallery_ = new MaterialGallery(this);
        connect(gallery_, &MaterialGallery::startTaken, this, [this](const MaterialStart* start) {
            document_.choose(document_.edit([&](const Scene& s) { return addMaterial(s, *start); }));
            document_.seal();
        });
        connect(gallery_, &MaterialGallery::materialTaken, this, [this](ObjectId material) { document_.choose(material); });
        connect(gallery_, &MaterialGallery::ownTaken, this,
                [this](const std::filesystem::path& path) { useMaterialFile(document_, path, {}); });
    }
    gallery_->open(document_.scene(), document_.chosen(), document_.folder(), add_);
}

bool MaterialTray::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::MouseButtonPress) pressed_ = static_cast<QMouseEvent*>(event)->pos();
    if (event->type() != QEvent::MouseMove) return QScrollArea::eventFilter(watched, event);
    const auto* mouse = static_cast<QMouseEvent*>(event);
    const bool far = (mouse->pos() - pressed_).manhattanLength() >= QApplication::startDragDistance();
    auto* tile = qobject_cast<QToolButton*>(watched);
    const ObjectId material = tile ? materialOf(tile) : ObjectId{};
    if (!(mouse->buttons() & Qt::LeftButton) || !far || !material) return QScrollArea::eventFilter(watched, event);
    auto* drag = new QDrag(this);
    drag->setMimeData(carrying({material}));
    drag->setPixmap(tile->icon().pixmap(trayPicture));
    drag->exec(Qt::CopyAction | Qt::MoveAction);
    tile->setDown(false);
    return true;
}
