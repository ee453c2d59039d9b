#pragma once
#include <functional>
#include <QScrollArea>

#include "app/export/export_queue.h"

class QLabel;
class QProgressBar;
class QToolButton;
class QVBoxLayout;

/// One job of the queue in a row: its picture, what it writes, how far it is, and what can be done.
class ExportRow : public QWidget {
    Q_OBJECT

  public:
    ExportRow(ExportQueue& queue, int id, QWidget* parent);
    void showJob(const ExportJob& job);

  private:
    QToolButton* button(const char* name, const char* icon, const QString& tip, const std::function<void()>& act);

    ExportQueue& queue_;
    int id_;
    std::filesystem::path file_;
    QLabel *picture_, *name_, *said_;
    QProgressBar* bar_;
    QToolButton *pause_, *resume_, *replace_, *hurry_, *folder_, *remove_;
};

/// The queue under the picture.
class ExportQueuePanel : public QScrollArea {
    Q_OBJECT

  public:
    ExportQueuePanel(ExportQueue& queue, QWidget* parent);

  private:
    void refresh();
    void refreshRunning();

    ExportQueue& queue_;
    QVBoxLayout* rows_;
    QLabel* empty_;
    std::map<int, ExportRow*> shown_;
};
