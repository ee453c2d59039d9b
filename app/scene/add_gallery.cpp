#include "app/scene/add_gallery.h"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/scene/own_starts_row.h"
#include "app/scene/picture_of.h"
#include "app/scene/small_pictures.h"
#include "app/theme/theme.h"
#include "core/kinds/registry.h"
#include "core/shape/shape_kind.h"

using namespace gswarm;

namespace {

constexpr int addColumns = 5;

}  // namespace

AddGallery::AddGallery(std::vector<Thing> things, QWidget* parent) : QFrame(parent, Qt::Popup), pictures_(new SmallPictures(this)) {
    setObjectName("addGallery");
    setStyleSheet("#addGallery { background: #15120e; border: 1px solid #3a3329; border-radius: 4px; }");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(8, 8, 8, 8);
    column->setSpacing(8);
    auto* row = new QHBoxLayout;
    row->setSpacing(6);
    for (const Thing& thing : things) {
        auto* button = new QPushButton(theme::icon(thing.icon), thing.label, this);
        button->setObjectName("add-" + thing.id);
        button->setToolTip(thing.tip);
        row->addWidget(button);
        connect(button, &QPushButton::clicked, this, [this, add = thing.add] {
            hide();
            add();
        });
    }
    row->addStretch(1);
    column->addLayout(row);
    auto* grid = new QGridLayout;
    grid->setSpacing(4);
    int n = 0;
    for (const Kind* kind : kindsOf(Family::shape)) {
        auto* button = new QToolButton(this);
        button->setObjectName("add-shape-" + QString::fromStdString(kind->id));
        button->setText(QString::fromStdString(kind->label));
        button->setToolTip(QString::fromStdString(kind->summary));
        button->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
        button->setIconSize(tilePicture);
        button->setFixedSize(tilePicture.width() + 16, tilePicture.height() + 28);
        button->setIcon(theme::icon("shape", theme::quiet));
        button->setStyleSheet(theme::tileStyle());
        grid->addWidget(button, n / addColumns, n % addColumns);
        ++n;
        connect(button, &QToolButton::clicked, this, [this, kind] {
            hide();
            emit shapeTaken(kind);
        });
    }
    column->addLayout(grid);
    own_ = new OwnStartsRow({StartOf::swarm}, addColumns, this);
    column->addWidget(own_);
    connect(own_, &OwnStartsRow::taken, this, [this](const std::filesystem::path& path) {
        hide();
        emit ownTaken(path);
    });
    connect(pictures_, &SmallPictures::made, this, [this](const QString& kind, const QImage& made) {
        if (auto* button = findChild<QToolButton*>("add-shape-" + kind)) button->setIcon(QPixmap::fromImage(made));
    });
}

void AddGallery::open(const QPoint& global) {
    for (const Kind* kind : kindsOf(Family::shape))
        pictures_->ask(QString::fromStdString(kind->id),
                       [kind](Progress& progress) { return pictureOf(static_cast<const ShapeKind&>(*kind), tilePicture, progress); });
    own_->refresh();
    adjustSize();
    move(global);
    show();
    if (auto* first = findChild<QPushButton*>()) first->setFocus();
}
