#pragma once
#include <QListWidget>

#include "app/document/document.h"

/// Everything in the project, by type. A click chooses, or answers a pick; Delete takes away; a double click renames. What
/// is dragged out of it can be dropped on a slot for such a thing; the choice stays.
/// The mark at the right of a shape or a swarm says whether it is seen itself; a click on it, or V, changes that.
class SceneList : public QListWidget {
    Q_OBJECT

  public:
    SceneList(Document& document, QWidget* parent);
    QListWidgetItem* itemOf(gswarm::ObjectId id) const;

  protected:
    void keyPressEvent(QKeyEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;

  private:
    void refresh();
    static gswarm::ObjectId idOf(const QListWidgetItem* item);
    /// Shown, dimmed, hidden: the next state of what has one.
    void switchShown(gswarm::ObjectId id);

    Document& document_;
    void dragOut(gswarm::ObjectId id);

    bool refreshing_ = false;
    gswarm::ObjectId pressed_;  ///< under the held button; chosen when it is let go
    QPoint pressedAt_;
};
