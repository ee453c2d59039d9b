#include "app/theme/spoken.h"

#include <QAccessible>
#include <QAccessibleWidget>

namespace {

const char* const roleKey = "spokenRole";
const char* const valueKey = "spokenValue";

QAccessible::Role roleOf(spoken::Role role) {
    switch (role) {
        case spoken::Role::number:
            return QAccessible::SpinBox;
        case spoken::Role::onOff:
            return QAccessible::CheckBox;
        case spoken::Role::card:
            return QAccessible::Button;
        case spoken::Role::colour:
            return QAccessible::ColorChooser;
        case spoken::Role::ramp:
        case spoken::Role::curve:
        case spoken::Role::points:
            return QAccessible::Slider;
        case spoken::Role::view:
            return QAccessible::Graphic;
        case spoken::Role::table:
            return QAccessible::Table;
    }
    return QAccessible::Client;
}

/// A widget with its role, and its value in words.
class Spoken : public QAccessibleWidget {
  public:
    explicit Spoken(QWidget* widget) : QAccessibleWidget(widget, roleOf(static_cast<spoken::Role>(widget->property(roleKey).toInt()))) {}
    QString text(QAccessible::Text what) const override {
        if (what == QAccessible::Value) return widget()->property(valueKey).toString();
        return QAccessibleWidget::text(what);
    }
};

QAccessibleInterface* make(const QString&, QObject* object) {
    auto* widget = qobject_cast<QWidget*>(object);
    return widget && widget->property(roleKey).isValid() ? new Spoken(widget) : nullptr;
}

}  // namespace

void spoken::install() { QAccessible::installFactory(make); }

void spoken::tell(QWidget* widget, Role role) { widget->setProperty(roleKey, static_cast<int>(role)); }

void spoken::setValue(QWidget* widget, const QString& value) {
    if (widget->property(valueKey).toString() == value) return;
    widget->setProperty(valueKey, value);
    if (!QAccessible::isActive()) return;
    QAccessibleValueChangeEvent changed(widget, value);
    QAccessible::updateAccessibility(&changed);
}
