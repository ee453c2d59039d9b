#pragma once
#include <QScrollArea>

/// What an empty project shows in place of the picture: the demo pieces as pictures, and a new swarm.
class Greeting : public QScrollArea {
    Q_OBJECT

  public:
    explicit Greeting(QWidget* parent);

  signals:
    void newSwarm();
    void openAsked();
    void walkAsked();
    void demoAsked(const QString& path);
};

/// The folder of demo projects: beside the program, installed, or in the source tree; empty if there is none.
QString demoFolder();
