#pragma once
#include <filesystem>
#include <string>

namespace gswarm {

/// The file that a project means by a path typed for it, with every link on the way resolved. `folder` is the project's;
/// empty for the present one. Throws Error if the path is absolute, the file lies outside the folder once all links are
/// followed, or it isn't there. The folder itself may be reached by a link.
std::filesystem::path pathInProject(const std::string& typed, const std::filesystem::path& folder);

}  // namespace gswarm
