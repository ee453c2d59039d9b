#include "app/tour/tour.h"

#include <QCoreApplication>
#include <QElapsedTimer>
#include <QPixmap>
#include <QThread>

#include "app/picture/picture.h"
#include "app/window/main_window.h"

namespace tour {

bool settle(MainWindow& window) {
    QElapsedTimer clock;
    clock.start();
    int quiet = 0;
    while (quiet < 6 && clock.elapsed() < 60000) {
        QCoreApplication::processEvents(QEventLoop::AllEvents, 20);
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
        quiet = window.picture().upToDate() ? quiet + 1 : 0;
        // Whoever makes the picture has the processor meanwhile.
        if (quiet == 0) QThread::msleep(1);
    }
    return quiet >= 6;
}

bool shoot(MainWindow& window, const QString& path) { return settle(window) && window.grab().save(path); }

}  // namespace tour
