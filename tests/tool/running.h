#pragma once
#include <filesystem>
#include <nlohmann/json.hpp>
#include <string>

/// The real binary, run as a person does.
namespace running {

namespace fs = std::filesystem;
using Json = nlohmann::json;

struct Outcome {
    int code;
    std::string out, error;  ///< without what tells how far long work is
};

/// A folder of this process alone, gone when it ends.
const fs::path& folder();
std::string contentOf(const fs::path& path);
/// A whole command line.
Outcome shell(const std::string& command);
/// The tool with its arguments.
Outcome gswarm(const std::string& arguments);

}  // namespace running
