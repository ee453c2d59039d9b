#pragma once
#include "core/edit/edit.h"

namespace gswarm {

/// The kinds of shapes, formations, media and sounds that read files with an ending (".obj", in small letters), as their tables say.
std::vector<const Kind*> kindsReading(const std::string& ending);
/// Which of a kind's parameters names the file; −1 for a kind that reads none.
int fileParameter(const Kind& kind);

/// A shape that reads a file, called like it. `file` is its path in the project's folder.
Edit importShape(const Scene& scene, const Kind& kind, const std::string& file);
/// A swarm that repeats such a shape, fitted to its spacing.
Edit importSwarm(const Scene& scene, const Kind& kind, const std::string& file);
/// Media that show it, called like it.
Edit importMedia(const Scene& scene, const Kind& kind, const std::string& file);
/// A sound, called like it.
Edit importSound(const Scene& scene, const Kind& kind, const std::string& file);
/// A swarm of boxes that stands where a file says.
Edit importPoints(const Scene& scene, const Kind& formation, const std::string& file);

}  // namespace gswarm
