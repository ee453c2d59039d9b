#include "core/base/atomic_file.h"

#include <fcntl.h>
#include <unistd.h>

#include <cerrno>
#include <cstring>
#include <fstream>

#include "core/base/error.h"

namespace gswarm {
namespace {

[[noreturn]] void refuse(const std::filesystem::path& path, const std::filesystem::path& temporary) {
    const std::string reason = std::strerror(errno);
    std::error_code ignored;
    std::filesystem::remove(temporary, ignored);
    const std::string folder = path.has_parent_path() ? " to “" + path.parent_path().string() + "”" : "";
    throw Error("“" + path.filename().string() + "” could not be written" + folder + " (" + reason +
                "); what was there before is untouched. Choose another place or free some space.");
}

}  // namespace

void writeFileAtomically(const std::filesystem::path& path, std::string_view bytes) {
    std::filesystem::path temporary = path;
    temporary += "." + std::to_string(::getpid()) + ".part";
    const int file = ::open(temporary.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0644);
    if (file < 0) refuse(path, temporary);
    while (!bytes.empty()) {
        const auto written = ::write(file, bytes.data(), bytes.size());
        if (written < 0) {
            if (errno == EINTR) continue;
            ::close(file);
            refuse(path, temporary);
        }
        bytes.remove_prefix(static_cast<std::size_t>(written));
    }
    const bool flushed = ::fsync(file) == 0;
    if (::close(file) != 0 || !flushed) refuse(path, temporary);
    if (::rename(temporary.c_str(), path.c_str()) != 0) refuse(path, temporary);
}

std::string readFile(const std::filesystem::path& path, std::uintmax_t mostBytes) {
    const std::string name = "“" + path.filename().string() + "”";
    std::error_code failed;
    if (!std::filesystem::is_regular_file(path, failed)) throw Error(name + " is not there or is not a file.");
    const auto size = std::filesystem::file_size(path, failed);
    if (failed) throw Error(name + " can't be read (" + failed.message() + ").");
    if (size > mostBytes)
        throw Error(name + " has " + std::to_string(size >> 20) + " MiB, more than the " + std::to_string(mostBytes >> 20) +
                    " MiB that are read.");
    std::ifstream stream(path, std::ios::binary);
    std::string bytes(size, '\0');
    if (!stream.read(bytes.data(), static_cast<std::streamsize>(size))) throw Error(name + " can't be read; check that you may open it.");
    return bytes;
}

}  // namespace gswarm
