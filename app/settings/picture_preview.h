#pragma once
#include <filesystem>
#include <QLabel>

/// What a file of a project's folder shows, if it is a picture, small; or one sentence on why it can't be read. Read beside the window.
class PicturePreview : public QLabel {
    Q_OBJECT

  public:
    explicit PicturePreview(QWidget* parent);
    /// `typed` as the project has it; nothing is shown for none.
    void show(const std::string& typed, const std::filesystem::path& projectFolder);
    static constexpr QSize most{170, 64};  ///< pixels

  private:
    void take(const QImage& picture);

    QString key_;
};
