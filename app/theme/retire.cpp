#include "app/theme/retire.h"

#include <QWidget>

void retire(QWidget* widget) {
    widget->blockSignals(true);
    for (QObject* part : widget->findChildren<QObject*>()) part->blockSignals(true);
    widget->hide();
    widget->deleteLater();
}
