#include "tests/tool/running.h"

#include <sys/wait.h>
#include <unistd.h>

#include <array>
#include <cstdio>
#include <fstream>
#include <sstream>

namespace running {

const fs::path& folder() {
    struct Folder {
        fs::path path = fs::temp_directory_path() / ("gswarm-tool-" + std::to_string(::getpid()));
        Folder() { fs::create_directories(path); }
        ~Folder() { fs::remove_all(path); }
    };
    static const Folder made;
    return made.path;
}

std::string contentOf(const fs::path& path) {
    std::ostringstream text;
    text << std::ifstream(path, std::ios::binary).rdbuf();
    return text.str();
}

Outcome shell(const std::string& command) {
    const fs::path error = folder() / "stderr";
    // What OpenGL's driver keeps to its end is not ours: sanitized, leaks are not looked for where it draws.
    const bool driver = GSWARM_SANITIZED && command.find(" --live") != std::string::npos;
    const std::string before = driver ? "export ASAN_OPTIONS=\"$ASAN_OPTIONS:detect_leaks=0\"; " : "";
    FILE* pipe = ::popen(("{ " + before + command + "; } 2> " + error.string()).c_str(), "r");
    Outcome run;
    std::array<char, 4096> chunk{};
    while (const std::size_t n = std::fread(chunk.data(), 1, chunk.size(), pipe)) run.out.append(chunk.data(), n);
    run.code = WEXITSTATUS(::pclose(pipe));
    std::istringstream lines(contentOf(error));
    for (std::string line; std::getline(lines, line);)
        if (line.find(" %") == std::string::npos) run.error += line + "\n";
    return run;
}

Outcome gswarm(const std::string& arguments) { return shell(std::string(GSWARM_TOOL) + " " + arguments); }

}  // namespace running
