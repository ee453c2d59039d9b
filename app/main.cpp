// gilded-swarm: the window.
#include "app/document/application.h"
#include "app/theme/theme.h"
#include "app/window/main_window.h"

int main(int argc, char** argv) {
    Application application(argc, argv);
    QApplication::setOrganizationName("gilded-swarm");
    QApplication::setApplicationName("gilded-swarm");
    QApplication::setApplicationVersion("0.1.0");
    QApplication::setDesktopFileName("net.gildedswarm.GildedSwarm");
    theme::apply(application);
    MainWindow window;
    window.show();
    const QStringList arguments = QApplication::arguments();
    if (arguments.size() > 1) window.openFile(arguments[1]);
    window.offerRecovery();
    return QApplication::exec();
}
