#pragma once
#include <filesystem>
#include <memory>
#include <QFrame>
#include <QTimer>

#include "core/edit/gesture_starts.h"

class OwnStartsRow;
namespace gswarm {
struct SymmetryKind;
}

/// The gallery of gestures and symmetries, told by what they do, in words and small moving pictures: each picture is the gesture
/// itself at work on a row of blocks.
class Gallery : public QFrame {
    Q_OBJECT

  public:
    explicit Gallery(QWidget* parent);
    ~Gallery() override;
    /// Whether each has a picture of at least one frame.
    bool pictured() const;

  signals:
    void taken(const gswarm::GestureStart& start);
    void symmetryTaken(const gswarm::SymmetryKind& kind);
    /// A gesture or a rail that was kept.
    void ownTaken(const std::filesystem::path& path);

  protected:
    void showEvent(QShowEvent*) override;
    void hideEvent(QHideEvent*) override { timer_.stop(); }

  private:
    struct Maker;
    QTimer timer_;
    OwnStartsRow* own_;
    std::unique_ptr<Maker> maker_;
};
