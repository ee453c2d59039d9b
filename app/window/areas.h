#pragma once
#include <QList>

class QWidget;

/// The way of the keyboard through the window in large steps: panels, and the sections of the settings.
namespace areas {

/// Gives the keyboard to the area after the one that has it, or before it; around at the ends. Areas that can't be seen are
/// passed over; an area that can't take the keyboard itself gives it to the first of its own that can.
void step(const QList<QWidget*>& areas, int by);

}  // namespace areas
