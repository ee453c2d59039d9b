#include "app/scene/material_gallery.h"

#include <QGridLayout>
#include <QLabel>
#include <QScrollArea>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/scene/own_starts_row.h"
#include "app/scene/picture_of.h"
#include "app/scene/small_pictures.h"
#include "app/theme/theme.h"

using namespace gswarm;

namespace {

constexpr int acrossGallery = 5, mostShownRows = 2;

}  // namespace

MaterialGallery::MaterialGallery(QWidget* parent) : QFrame(parent, Qt::Popup), pictures_(new SmallPictures(this)) {
    setObjectName("materialGallery");
    setStyleSheet("#materialGallery { background: #15120e; border: 1px solid #3a3329; border-radius: 4px; }");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(8, 8, 8, 8);
    column->setSpacing(6);
    auto* grid = new QGridLayout;
    grid->setSpacing(4);
    int n = 0;
    for (const MaterialStart& start : materialStarts()) {
        auto* button = tile("material-" + QString::fromStdString(start.id), QString::fromStdString(start.label),
                            QString::fromStdString(start.summary), false);
        button->setProperty("picture", QString::fromStdString(start.id));
        grid->addWidget(button, n / acrossGallery, n % acrossGallery);
        ++n;
        connect(button, &QToolButton::clicked, this, [this, &start] {
            hide();
            emit startTaken(&start);
        });
    }
    column->addLayout(grid);
    own_ = new OwnStartsRow({StartOf::material}, acrossGallery, this);
    column->addWidget(own_);
    connect(own_, &OwnStartsRow::taken, this, [this](const std::filesystem::path& path) {
        hide();
        emit ownTaken(path);
    });
    connect(pictures_, &SmallPictures::made, this, [this](const QString& key, const QImage& made) {
        for (auto* button : findChildren<QToolButton*>())
            if (button->property("picture") == key) button->setIcon(QPixmap::fromImage(made));
    });
}

QToolButton* MaterialGallery::tile(const QString& name, const QString& label, const QString& tip, bool current) {
    auto* button = new QToolButton(this);
    button->setObjectName(name);
    button->setText(button->fontMetrics().elidedText(label, Qt::ElideRight, tilePicture.width()));
    button->setAccessibleName(label);
    button->setToolTip(tip);
    button->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
    button->setIconSize(tilePicture);
    button->setFixedSize(tilePicture.width() + 16, tilePicture.height() + 28);
    button->setIcon(theme::icon("material", current ? theme::gold : theme::quiet));
    button->setStyleSheet(theme::tileStyle());
    return button;
}

void MaterialGallery::open(const Scene& scene, ObjectId current, const std::filesystem::path& projectFolder, QWidget* beside) {
    own_->refresh();
    delete ofProject_;
    ofProject_ = new QWidget(this);
    auto* column = new QVBoxLayout(ofProject_);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    auto* title = new QLabel("In this project", ofProject_);
    title->setStyleSheet("color: #a3967f;");
    column->addWidget(title);
    auto* inside = new QWidget;
    auto* grid = new QGridLayout(inside);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setSpacing(4);
    int n = 0;
    for (const ObjectId material : scene.all(ObjectType::material)) {
        const QString name = QString::fromStdString(scene.at(material).name);
        auto* button = tile(QString("project-material-%1").arg(n + 1), name,
                            name + (material == current ? ", which it has" : ": the same one, shared"), material == current);
        const QString key = pictureKey(scene, material);
        button->setProperty("picture", key);
        grid->addWidget(button, n / acrossGallery, n % acrossGallery);
        ++n;
        connect(button, &QToolButton::clicked, this, [this, material] {
            hide();
            emit materialTaken(material);
        });
        pictures_->ask(key, [scene, material, projectFolder](Progress& progress) {
            return pictureOf(scene, material, projectFolder, tilePicture, progress);
        });
    }
    for (const MaterialStart& start : materialStarts())
        pictures_->ask(QString::fromStdString(start.id), [&start](Progress& progress) { return pictureOf(start, tilePicture, progress); });
    grid->setColumnStretch(acrossGallery, 1);
    auto* scroll = new QScrollArea(ofProject_);
    scroll->setWidget(inside);
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setFrameShape(QFrame::NoFrame);
    const int rows = std::clamp((n + acrossGallery - 1) / acrossGallery, 1, mostShownRows);
    scroll->setFixedHeight(rows * (tilePicture.height() + 32));
    column->addWidget(scroll);
    ofProject_->setVisible(n > 0);
    static_cast<QVBoxLayout*>(layout())->insertWidget(0, ofProject_);
    adjustSize();
    const QRect window = parentWidget()->window()->frameGeometry();
    QPoint at = beside->mapToGlobal(QPoint(-width() - 8, -40));
    at.setX(std::max(window.left() + 8, at.x()));
    at.setY(std::clamp(at.y(), window.top() + 8, std::max(window.top() + 8, window.bottom() - height() - 8)));
    move(at);
    show();
    if (auto* first = findChild<QToolButton*>()) first->setFocus();
}
