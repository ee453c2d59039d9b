#include "app/picture/variation_bar.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

#include "app/document/document.h"
#include "app/fields/number_field.h"
#include "app/theme/theme.h"

using namespace gswarm;

VariationBar::VariationBar(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("variationBar");
    setAttribute(Qt::WA_StyledBackground);
    setStyleSheet("#variationBar { background: #1e1a15; border: 1px solid #3a3329; border-radius: 4px; }");
    row_ = new QHBoxLayout(this);
    row_->setContentsMargins(10, 2, 4, 2);
    row_->setSpacing(6);
    what_ = new QLabel(this);
    what_->setFont(theme::text(13, QFont::Medium));
    row_->addWidget(what_);
    auto* done = new QPushButton("Leave", this);
    done->setObjectName("leaveVariations");
    done->setToolTip("Back to one view; the setting stays as it is (Esc)");
    row_->addWidget(done);
    connect(done, &QPushButton::clicked, &document_.session(), &Session::stopVarying);
    connect(&document_.session(), &Session::viewChanged, this, &VariationBar::refresh);
    refresh();
}

void VariationBar::makeFields() {
    for (QWidget* old : {static_cast<QWidget*>(from_), static_cast<QWidget*>(to_)})
        if (old) old->deleteLater();
    const Parameter& p = parameterAt(document_.scene(), document_.session().variations()->number);
    const auto field = [&](const char* name, int at, double VariationRange::*end) {
        auto* made = new NumberField(p, momentAt(document_.scene(), 0).rate, this);
        made->setObjectName(name);
        made->setFixedWidth(84);
        row_->insertWidget(at, made);
        made->setVisible(true);
        connect(made, &NumberField::edited, this, [this, end](double value) {
            Session::Variations changed = *document_.session().variations();
            changed.range.*end = value;
            document_.session().vary(changed);
        });
        return made;
    };
    from_ = field("variationsFrom", 1, &VariationRange::from);
    to_ = field("variationsTo", 2, &VariationRange::to);
    from_->setToolTip("The first of the nine");
    to_->setToolTip("The last of the nine");
}

void VariationBar::refresh() {
    const auto& variations = document_.session().variations();
    setVisible(variations.has_value());
    if (!variations) return;
    const std::string number = toText(document_.scene(), variations->number);
    if (number != shownFor_) makeFields();
    shownFor_ = number;
    const Parameter& p = parameterAt(document_.scene(), variations->number);
    QString axis;
    if (p.components > 1 && variations->number.component >= 0)
        axis = QString(" ") + QString(p.type == ParameterType::colour ? "RGBA" : "XYZW")[variations->number.component];
    what_->setText(QString::fromStdString(document_.scene().at(variations->number.object).name + ": " + p.label) + axis);
    from_->show(variations->range.from, NumberField::Mark::none);
    to_->show(variations->range.to, NumberField::Mark::none);
    emit resized();
}
