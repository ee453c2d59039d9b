#pragma once
#include <QWidget>

/// What an empty project shows in place of the picture: the demo pieces as pictures, and a new swarm.
class Greeting : public QWidget {
    Q_OBJECT

  public:
    explicit Greeting(QWidget* parent);

  signals:
    void newSwarm();
    void openAsked();
    void demoAsked(const QString& path);

  protected:
    void paintEvent(QPaintEvent*) override;
};

/// The folder of demo projects: beside the program, installed, or in the source tree; empty if there is none.
QString demoFolder();
