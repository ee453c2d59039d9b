#pragma once
#include <CLI/CLI.hpp>

#include <stdexcept>
#include <string>

#include "core/picture/trace.h"
#include "core/scene/frame_range.h"

namespace gswarm::tool {

/// Words on the command line that mean nothing: exit code 2.
struct UsageError : std::runtime_error {
    using std::runtime_error::runtime_error;
};

/// Frames as they are typed on the command line: finite and within ten million.
CLI::Validator frameNumber();
/// A whole number from `low` to `high`.
CLI::Validator wholeBetween(long long low, long long high);

/// "A-B", also with frames below 0 such as "-10-5" or "-10--5". Throws UsageError.
FrameRange parseFrames(const std::string& text);
/// "1920x1080". Throws UsageError.
TraceSize parseSize(const std::string& text);

}  // namespace gswarm::tool
