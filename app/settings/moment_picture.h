#pragma once
#include <functional>
#include <QImage>
#include <QWidget>

#include "app/document/document.h"
#include "core/base/progress.h"

class QLabel;
class SmallPictures;

/// Something of the scene as it is at the frame, small, and a sentence on what it is or what is wrong with it. Worked out beside the
/// window, anew at every frame and change.
class MomentPicture : public QWidget {
    Q_OBJECT

  public:
    struct Moment {
        gswarm::Scene scene;
        gswarm::ObjectId thing;
        double frame = 0;
        std::filesystem::path folder;
    };
    struct Told {
        QImage picture;  ///< null where it can't be shown
        QString sentence;
    };
    using Draw = std::function<Told(const Moment&, gswarm::Progress&)>;
    static constexpr int mostAcross = 276, mostHigh = 150;  ///< pixels of its pictures

    MomentPicture(Document& document, gswarm::ObjectId thing, Draw draw, QWidget* parent);
    /// What names it to tests and to those who can't see.
    void setNames(const QString& picture, const QString& told);

  protected:
    /// The picture with whatever is drawn on it.
    virtual QPixmap painted(const QImage& picture) const { return QPixmap::fromImage(picture); }
    void paintAgain();

  private:
    void ask();
    void take(const QImage& picture);

    Document& document_;
    gswarm::ObjectId thing_;
    Draw draw_;
    QLabel *picture_, *told_;
    SmallPictures* maker_;
    QImage shown_;
    int asked_ = 0;
    bool busy_ = false, again_ = false;
};
