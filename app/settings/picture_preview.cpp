#include "app/settings/picture_preview.h"

#include <algorithm>
#include <QApplication>
#include <QFileInfo>

#include "app/scene/small_pictures.h"
#include "app/theme/theme.h"
#include "core/base/error.h"
#include "core/base/outside_file.h"
#include "core/picture/display.h"
#include "core/provide/read_picture.h"

using namespace gswarm;

namespace {

constexpr const char* troubleText = "trouble";

/// One for all rows: a row that goes waits for no picture that is being read.
SmallPictures& reader() {
    static auto* made = new SmallPictures(qApp);
    return *made;
}

bool isPicture(const std::filesystem::path& file) {
    std::string ending = file.extension().string();
    std::transform(ending.begin(), ending.end(), ending.begin(), [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    const auto& all = pictureEndings();
    return std::find(all.begin(), all.end(), ending) != all.end();
}

QImage smallOf(const FloatPicture& picture) {
    const QSize fitting = QSize(picture.width, picture.height).scaled(PicturePreview::most, Qt::KeepAspectRatio);
    const FloatPicture small = reduced(picture, std::max(1, (picture.width + fitting.width() - 1) / std::max(1, fitting.width())));
    QImage image(small.width, small.height, QImage::Format_RGB888);
    for (int y = 0; y < small.height; ++y)
        for (int x = 0; x < small.width; ++x) {
            const glm::vec3 shown = display(small.light[static_cast<std::size_t>(y * small.width + x)], 1, DisplayTransform::soft);
            image.setPixelColor(x, y, QColor::fromRgbF(shown.x, shown.y, shown.z));
        }
    return image;
}

QImage saying(const char* sentence) {
    QImage image(1, 1, QImage::Format_RGB888);
    image.setText(troubleText, QString::fromUtf8(sentence));
    return image;
}

}  // namespace

PicturePreview::PicturePreview(QWidget* parent) : QLabel(parent) {
    setObjectName("picturePreview");
    hide();
    connect(&reader(), &SmallPictures::made, this, [this](const QString& key, const QImage& picture) {
        if (key == key_) take(picture);
    });
}

void PicturePreview::show(const std::string& typed, const std::filesystem::path& projectFolder) {
    std::filesystem::path file;
    try {
        if (!typed.empty()) file = pathInProject(typed, projectFolder);
    } catch (const Error& error) {
        key_.clear();
        return take(saying(error.what()));
    }
    if (file.empty() || !isPicture(file)) {
        key_.clear();
        return setVisible(false);
    }
    const QFileInfo info(QString::fromStdString(file.string()));
    const QString key = QString("%1 %2 %3").arg(info.filePath()).arg(info.size()).arg(info.lastModified().toMSecsSinceEpoch());
    if (key == key_) return;
    key_ = key;
    reader().ask(key, [file](Progress&) {
        try {
            return smallOf(readPictureFile(file));
        } catch (const Error& error) {
            return saying(error.what());
        }
    });
}

void PicturePreview::take(const QImage& picture) {
    const QString trouble = picture.text(troubleText);
    // Where words wrap, height goes by width: a label takes that back only while it is one of words.
    setText(trouble);
    setWordWrap(!trouble.isEmpty());
    if (trouble.isEmpty()) {
        setStyleSheet("");
        setPixmap(QPixmap::fromImage(picture));
    } else {
        setStyleSheet("color: " + theme::coral.name() + ";");
    }
    setVisible(true);
}
