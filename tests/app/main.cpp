#include <gtest/gtest.h>

#include <QStandardPaths>

#include "app/document/application.h"
#include "app/theme/theme.h"

int main(int argc, char** argv) {
    testing::InitGoogleTest(&argc, argv);
    Application application(argc, argv);
    QStandardPaths::setTestModeEnabled(true);
    QApplication::setOrganizationName("gilded-swarm");
    QApplication::setApplicationName("gilded-swarm-tests");
    theme::apply(application);
    return RUN_ALL_TESTS();
}
