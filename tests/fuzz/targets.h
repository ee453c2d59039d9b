#pragma once
#include <string>
#include <string_view>
#include <vector>

/// What is fed with damaged input: every reader of files from others, formulas, projects and typed values. Each takes any
/// bytes and comes back; it ends the process where what was read breaks what the reader promises.
namespace gswarm::fuzz {

struct Target {
    const char* name;  ///< of its folder in tests/files/corpus
    void (*run)(std::string_view bytes);
};
const std::vector<Target>& targets();

}  // namespace gswarm::fuzz
