#include "core/base/outside_file.h"

#include <algorithm>

#include "core/base/error.h"
#include "core/base/text.h"

namespace gswarm {
namespace fs = std::filesystem;

fs::path pathInProject(const std::string& typed, const fs::path& folder) {
    const std::string name = quotedPiece(typed);
    const Error outside(name + " lies outside the project's folder; copy it into the folder and choose it there.");
    const Error missing(name + " is missing from the project's folder; put it back or choose another file.");
    const fs::path relative(typed);
    if (relative.is_absolute() || typed.find('\0') != std::string::npos) throw outside;
    std::error_code failed;
    const fs::path home = fs::canonical(folder.empty() ? fs::path(".") : folder, failed);
    if (failed) throw missing;
    // Only a path all of whose parts are there says where it leads; one that goes up through a name that is not there
    // would be cut short as text, past links that lead elsewhere.
    const fs::path whole = fs::canonical(home / relative, failed);
    if (failed) {
        const fs::path plain = (home / relative).lexically_normal().lexically_relative(home);
        throw plain.empty() || *plain.begin() == ".." ? outside : missing;
    }
    const auto [end, rest] = std::mismatch(home.begin(), home.end(), whole.begin(), whole.end());
    if (end != home.end()) throw outside;
    if (!fs::is_regular_file(whole, failed)) throw missing;
    return whole;
}

}  // namespace gswarm
