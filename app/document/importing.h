#pragma once
#include <optional>
#include <QStringList>

#include "app/document/document.h"
#include "core/scene/kind.h"

class QMimeData;

/// Files that become things of the scene: meshes, drawings and fonts become shapes, points become swarms, pictures become media.
namespace importing {

/// For file dialogs: every ending that some kind reads.
QString filter();
bool canImport(const QString& path);
/// Whether it would become a shape.
bool isShape(const QString& path);
/// The files of a drag, if all of them can be imported; projects and kept starts can't, they are opened and used.
QStringList dragged(const QMimeData* data);

/// Adds what the files hold, in one step; files from elsewhere are copied into the project's folder. With a place a shape is
/// repeated by a new swarm there, and points stand there. Returns what was made, of each file one; what can't be is told.
std::vector<gswarm::ObjectId> make(Document& document, const QStringList& paths, const std::optional<glm::dvec3>& place = {});
/// Adds and selects it.
void add(Document& document, const QStringList& paths, const std::optional<glm::dvec3>& place = {});

}  // namespace importing
