#include "app/time/loop_panel.h"

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/document/evaluation.h"
#include "app/theme/theme.h"
#include "core/explain/loop_check.h"

using namespace gswarm;

LoopPanel::LoopPanel(Document& document, Evaluation& evaluation, QWidget* parent)
    : QFrame(parent, Qt::Popup), document_(document), evaluation_(evaluation) {
    setObjectName("loopPanel");
    setFixedWidth(430);
    setStyleSheet("#loopPanel { background: #29241d; border: 1px solid #3a3329; border-radius: 4px; }");
    (new QVBoxLayout(this))->setContentsMargins(12, 8, 12, 10);
    connect(&evaluation_, &Evaluation::loopChecked, this, [this] {
        if (isVisible()) refresh();
    });
}

void LoopPanel::open(const QPoint& corner) {
    corner_ = corner;
    refresh();
    show();
}

void LoopPanel::refresh() {
    delete content_;
    content_ = new QWidget(this);
    auto* column = new QVBoxLayout(content_);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    layout()->addWidget(content_);
    const auto say = [&](const QString& text, const char* colour) {
        auto* label = new QLabel(text, content_);
        label->setObjectName("loopTold");
        label->setWordWrap(true);
        label->setStyleSheet(QString("color: %1;").arg(colour));
        column->addWidget(label);
    };
    const auto check = evaluation_.loop();
    if (!check) {
        say("The loop is being checked …", "#a3967f");
    } else {
        say(QString("Frame %1 against frame %2").arg(check->first).arg(check->last), "#a3967f");
        for (const SwarmLoop& loop : check->swarms)
            say(QString::fromStdString(loop.told) +
                    (loop.closed && loop.speedJump > 1e-3 * loop.size
                         ? QString(" Its speed changes by %1 m a frame there.").arg(loop.speedJump, 0, 'g', 2)
                         : QString()),
                loop.closed ? "#ece3d2" : "#f08a72");
        for (const std::string& told : check->told) say(QString::fromStdString(told), "#f08a72");
        for (const LoopMend& mend : check->mends) {
            auto* button = new QPushButton(QString::fromStdString(mend.label), content_);
            button->setObjectName("loopMend");
            button->setToolTip("Applies this mend; undo takes it back");
            column->addWidget(button);
            connect(button, &QPushButton::clicked, this, [this, mend] {
                document_.edit([&](const Scene&) { return mend.edit; });
                document_.seal();
            });
        }
        if (check->mends.size() > 1) {
            auto* all = new QPushButton("Make it loop: all of these", content_);
            all->setObjectName("loopMendAll");
            column->addWidget(all);
            connect(all, &QPushButton::clicked, this, [this] {
                document_.edit([](const Scene& s) { return makeLoop(s, {}); });
                document_.seal();
            });
        }
    }
    content_->show();
    setFixedHeight(layout()->totalHeightForWidth(width()));
    move(corner_ - QPoint(width(), height()));
}
