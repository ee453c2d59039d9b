#include "app/window/recent.h"

#include <QFileInfo>
#include <QSettings>

namespace {

constexpr int most = 10;
const char* const key = "recentProjects";

}  // namespace

QStringList recent::projects() {
    QStringList there;
    for (const QString& path : QSettings().value(key).toStringList())
        if (QFileInfo::exists(path)) there << path;
    return there;
}

void recent::remember(const QString& path) {
    QStringList all = QSettings().value(key).toStringList();
    all.removeAll(path);
    all.prepend(path);
    QSettings().setValue(key, QStringList(all.mid(0, most)));
}
