#pragma once
#include <QString>

class QWidget;

/// What assistive technology is told of widgets that paint themselves: what they are, their name, and their value in words. The
/// name is the widget's accessible name.
namespace spoken {

enum class Role { number, onOff, card, ramp, curve, points, colour, view, table };

/// Call once for the widget; the value may be told again whenever it changes.
void tell(QWidget* widget, Role role);
void setValue(QWidget* widget, const QString& value);
/// Makes them known to Qt's accessibility; call once for the application.
void install();

}  // namespace spoken
