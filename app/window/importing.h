#pragma once
#include <QString>
#include <QStringList>

#include "app/document/document.h"

/// Files from elsewhere become things of the scene: what each is, is told by its ending and, where that can mean two things, by
/// its content.
namespace importing {

/// Endings that can be imported, as a filter of a file dialog.
QString filter();
bool canImport(const QString& path);
/// Brings the files into the project's folder and adds a shape or a swarm for each, as one step; the last is selected. What
/// can't be imported is told and the others are.
void add(Document& document, const QStringList& paths);

}  // namespace importing
