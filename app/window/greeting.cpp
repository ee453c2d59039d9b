#include "app/window/greeting.h"

#include <QCoreApplication>
#include <QDir>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QStandardPaths>
#include <QToolButton>

#include "app/theme/theme.h"

QString demoFolder() {
    // Installed beside the program, wherever that lies; or in a build folder of the sources.
    const QString here = QCoreApplication::applicationDirPath();
    QStringList folders = {here + "/../share/gilded-swarm/demo"};
    folders += QStandardPaths::locateAll(QStandardPaths::GenericDataLocation, "gilded-swarm/demo", QStandardPaths::LocateDirectory);
    folders += {here + "/../../../demo", here + "/../../../../demo"};
    for (const QString& folder : folders)
        if (!QDir(folder).entryList({"*.gswarm"}).isEmpty()) return QDir(folder).canonicalPath();
    return {};
}

Greeting::Greeting(QWidget* parent) : QScrollArea(parent) {
    setObjectName("greeting");
    setFrameShape(QFrame::NoFrame);
    setWidgetResizable(true);
    auto* content = new QWidget;
    content->setObjectName("greetingContent");
    content->setStyleSheet("#greetingContent { background: #15120e; }");
    auto* column = new QVBoxLayout(content);
    column->setAlignment(Qt::AlignCenter);
    column->setSpacing(14);
    auto* title = new QLabel("An empty stage", this);
    title->setFont(theme::text(26, QFont::DemiBold));
    title->setAlignment(Qt::AlignCenter);
    auto* hint = new QLabel("A new swarm is boxes on a grid, ready to change.", this);
    hint->setStyleSheet("color: #a3967f;");
    hint->setAlignment(Qt::AlignCenter);
    column->addWidget(title);
    column->addWidget(hint);
    auto* row = new QHBoxLayout;
    row->setAlignment(Qt::AlignCenter);
    row->setSpacing(8);
    auto* swarm = new QPushButton("New swarm", this);
    swarm->setObjectName("newSwarm");
    swarm->setToolTip("Ctrl+Shift+N");
    swarm->setIcon(theme::icon("swarm"));
    auto* open = new QPushButton("Open…", this);
    auto* walk = new QPushButton("Show me, in five steps", this);
    walk->setObjectName("startWalk");
    row->addWidget(swarm);
    row->addWidget(open);
    row->addWidget(walk);
    column->addLayout(row);
    const QDir demos(demoFolder());
    auto* pictures = new QGridLayout;
    pictures->setAlignment(Qt::AlignCenter);
    pictures->setSpacing(8);
    int place = 0;
    for (const QString& file : demoFolder().isEmpty() ? QStringList() : demos.entryList({"*.gswarm"})) {
        auto* demo = new QToolButton(this);
        const QString stem = QString(file).chopped(7), name = QString(stem).replace('-', ' ');
        demo->setObjectName("demo-" + stem);
        demo->setIcon(QIcon(demos.filePath(stem + ".png")));
        demo->setIconSize({160, 90});
        demo->setText(name.left(1).toUpper() + name.mid(1));
        demo->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
        demo->setStyleSheet("QToolButton { border: 1px solid #3a3329; padding: 6px; } QToolButton:hover { border-color: #a3967f; }");
        pictures->addWidget(demo, place / 4, place % 4);
        ++place;
        connect(demo, &QToolButton::clicked, this, [this, path = demos.filePath(file)] { emit demoAsked(path); });
    }
    column->addLayout(pictures);
    connect(swarm, &QPushButton::clicked, this, &Greeting::newSwarm);
    connect(open, &QPushButton::clicked, this, &Greeting::openAsked);
    connect(walk, &QPushButton::clicked, this, &Greeting::walkAsked);
    setWidget(content);
}
