#pragma once
#include <functional>
#include <QObject>
#include <vector>

#include "core/scene/object_id.h"

class QFrame;
class QMimeData;
class QWidget;

/// What a drag out of the scene list carries: one object of the scene, by its id.
QMimeData* carrying(gswarm::ObjectId object);
/// The empty id for a drag from elsewhere.
gswarm::ObjectId carried(const QMimeData* data);

/// Lets a widget take objects of some types that are dragged out of the scene list; a dashed line shows that it would.
class DropTarget : public QObject {
    Q_OBJECT

  public:
    DropTarget(QWidget* target, std::vector<gswarm::ObjectType> types, std::function<void(gswarm::ObjectId)> taken);

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    bool fits(gswarm::ObjectId object) const;

    QWidget* target_;
    std::vector<gswarm::ObjectType> types_;
    std::function<void(gswarm::ObjectId)> taken_;
    QFrame* mark_;
};
