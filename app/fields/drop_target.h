#pragma once
#include <functional>
#include <QObject>
#include <vector>

#include "core/scene/object_id.h"

class Document;
class QFrame;
class QMimeData;
class QWidget;

/// What a drag out of the scene list carries: objects of the scene, by their ids.
QMimeData* carrying(const std::vector<gswarm::ObjectId>& objects);
/// None for a drag from elsewhere.
std::vector<gswarm::ObjectId> carried(const QMimeData* data);

/// Lets a widget take an object of some types that is dragged out of the scene list, or a file that becomes one; a dashed line
/// shows that it would.
class DropTarget : public QObject {
    Q_OBJECT

  public:
    DropTarget(Document& document, QWidget* target, std::vector<gswarm::ObjectType> types, std::function<void(gswarm::ObjectId)> taken);

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    bool takes(gswarm::ObjectType type) const;

    Document& document_;
    QWidget* target_;
    std::vector<gswarm::ObjectType> types_;
    std::function<void(gswarm::ObjectId)> taken_;
    QFrame* mark_;
};
