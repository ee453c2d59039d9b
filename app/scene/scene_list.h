#pragma once
#include <QTreeWidget>
#include <set>

#include "app/document/document.h"
#include "core/read/outline.h"

/// Everything in the project as a tree: a swarm with its stock, formations and gestures, what several use under each of them,
/// groups. A click selects, or answers a pick; Ctrl and Shift select several. F2 renames, Delete takes away, V shows and hides.
/// What is dragged out of it can be dropped on a slot for such a thing, or within it to order, group, hang and join; the choice
/// stays. The mark at the right says whether a thing itself is seen; a click on it changes that.
class SceneList : public QTreeWidget {
    Q_OBJECT

  public:
    SceneList(Document& document, QWidget* parent);
    /// The first row of a thing; null if it has none that the filter lets through.
    QTreeWidgetItem* itemOf(gswarm::ObjectId id) const;
    static gswarm::ObjectId idOf(const QTreeWidgetItem* item);
    /// Only rows whose names hold all words, and what they stand under.
    void setFilter(const QString& text);
    /// Opens the name of what is selected for typing.
    void rename();
    void deleteSelected();
    void foldSwarms(bool fold);

  signals:
    void menuAsked(gswarm::ObjectId thing, const QPoint& global);

  protected:
    void keyPressEvent(QKeyEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;
    void contextMenuEvent(QContextMenuEvent*) override;
    void dragEnterEvent(QDragEnterEvent*) override;
    void dragMoveEvent(QDragMoveEvent*) override;
    void dragLeaveEvent(QDragLeaveEvent*) override;
    void dropEvent(QDropEvent*) override;
    void drawBranches(QPainter* painter, const QRect& rect, const QModelIndex& index) const override;

  private:
    void refresh();
    void build(const std::vector<gswarm::OutlineRow>& rows, QTreeWidgetItem* under);
    void fill(QTreeWidgetItem* item);
    void markSelection();
    void applyFilter();
    /// Shown, dimmed, hidden: the next state of what has one.
    void switchShown(gswarm::ObjectId id);
    void dragOut(gswarm::ObjectId id);
    /// Which place a drop at a point means: on a row, or before or after it.
    DropIndicatorPosition dropAt(const QPoint& at, QTreeWidgetItem*& item) const;

    Document& document_;
    std::vector<gswarm::OutlineRow> shown_;
    std::set<gswarm::ObjectId> folded_;
    std::set<gswarm::ObjectId> seen_;  ///< swarms that were shown once: they stay folded or open as they are
    QString filter_;
    bool refreshing_ = false;
    gswarm::ObjectId pressed_;  ///< under the held button; chosen when it is let go
    QPoint pressedAt_;
};
