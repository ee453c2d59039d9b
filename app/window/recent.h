#pragma once
#include <QString>
#include <QStringList>

/// Projects that were open last, the newest first, at most ten, and only those that are still there.
namespace recent {

QStringList projects();
void remember(const QString& path);

}  // namespace recent
