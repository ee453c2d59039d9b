#pragma once
#include <QScrollArea>
#include <QTimer>

#include "core/scene/object_id.h"

class Document;
class MaterialGallery;
class QHBoxLayout;
class QToolButton;
class SmallPictures;

/// The materials of the project as small traced pictures in a row: a click selects one, a drag takes it onto a thing in the view,
/// the list or the settings; the (+) opens the gallery of those that every project can begin with.
class MaterialTray : public QScrollArea {
    Q_OBJECT

  public:
    MaterialTray(Document& document, QWidget* parent);

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override;
    void showEvent(QShowEvent*) override { refresh(); }

  private:
    void refresh();
    void askPictures();
    void openGallery();
    gswarm::ObjectId materialOf(const QObject* tile) const;

    Document& document_;
    SmallPictures* pictures_;
    MaterialGallery* gallery_ = nullptr;
    QHBoxLayout* row_;
    QToolButton* add_;
    QTimer settle_;  ///< a setting that is dragged has no picture of every value on its way
    QPoint pressed_;
};
