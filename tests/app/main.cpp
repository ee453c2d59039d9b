#include <gtest/gtest.h>

#include <QStandardPaths>
#include <QTemporaryDir>

#include "app/document/application.h"
#include "app/theme/theme.h"

int main(int argc, char** argv) {
    testing::InitGoogleTest(&argc, argv);
    // Preferences and autosaves of its own: several of these run at a time.
    const QTemporaryDir home;
    for (const char* folder : {"HOME", "XDG_CONFIG_HOME", "XDG_DATA_HOME", "XDG_CACHE_HOME"}) qputenv(folder, home.path().toLocal8Bit());
    Application application(argc, argv);
    QStandardPaths::setTestModeEnabled(true);
    QApplication::setOrganizationName("gilded-swarm");
    QApplication::setApplicationName("gilded-swarm-tests");
    if (qEnvironmentVariableIsSet("GILDED_SWARM_LARGER_TEXT")) theme::setLargerText(true);
    theme::apply(application);
    return RUN_ALL_TESTS();
}
