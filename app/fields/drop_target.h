#pragma once
#include <functional>
#include <QObject>
#include <vector>

#include "core/scene/object_id.h"

class QFrame;
class QMimeData;
class QWidget;

/// What a drag out of the scene list carries: objects of the scene, by their ids.
QMimeData* carrying(const std::vector<gswarm::ObjectId>& objects);
/// None for a drag from elsewhere.
std::vector<gswarm::ObjectId> carried(const QMimeData* data);

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
