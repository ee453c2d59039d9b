#include "app/picture/banner.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

#include "app/document/document.h"
#include "app/document/evaluation.h"
#include "app/theme/theme.h"

using namespace gswarm;

Banner::Banner(Document& document, Evaluation& evaluation, QWidget* parent) : QFrame(parent), document_(document), evaluation_(evaluation) {
    setObjectName("banner");
    setStyleSheet("#banner { background: #1e1a15; border: 2px solid #f08a72; border-radius: 4px; }");
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(10, 3, 4, 3);
    row->setSpacing(10);
    text_ = new QLabel(this);
    text_->setObjectName("bannerText");
    text_->setFont(theme::text(13, QFont::Medium));
    all_ = new QPushButton("Work on all", this);
    all_->setObjectName("workOnAll");
    row->addWidget(text_);
    row->addWidget(all_);
    connect(all_, &QPushButton::clicked, this, [this] {
        document_.session().setRehearsal(1);
        document_.session().setLight(false);
    });
    connect(&document_.session(), &Session::viewChanged, this, &Banner::refresh);
    connect(&evaluation_, &Evaluation::ready, this, &Banner::refresh);
    refresh();
}

void Banner::refresh() {
    const Session& session = document_.session();
    const auto result = evaluation_.resultOf(document_.swarm());
    setVisible(session.comparing() || session.rehearsal() > 1 || session.light());
    if (!isVisibleTo(parentWidget())) return;
    all_->setVisible(!session.comparing());
    if (session.comparing()) {
        text_->setText("The kept version. Let go of C to come back.");
    } else {
        const QString light = session.light() ? "Light stand-ins of stock, where it has some" : "";
        QString text = session.rehearsal() > 1 ? QString("Rehearsal: one of %1").arg(session.rehearsal()) : light;
        if (session.rehearsal() > 1 && result)
            text += ", " + theme::grouped(result->count) + " of " + theme::grouped(result->total) + " instances";
        if (session.rehearsal() > 1 && !light.isEmpty()) text += "\n" + light;
        QStringList whole;
        for (const ObjectId entry : result ? result->wantWhole : std::vector<ObjectId>{})
            if (document_.scene().find(entry)) whole << QString::fromStdString("“" + nameOfCard(document_.scene(), entry) + "”");
        if (!whole.isEmpty())
            text += QString("\n%1 %2 the whole swarm: all of it will look different")
                        .arg(whole.join(", "), whole.size() == 1 ? "needs" : "need");
        text_->setText(text);
    }
    adjustSize();
    emit resized();
}
