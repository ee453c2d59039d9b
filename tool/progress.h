#pragma once
#include <functional>

#include "core/base/progress.h"

namespace gswarm::tool {

/// Runs the work. What takes longer than a moment is told on standard error: what is being done and how far it is, with
/// the time left. An interrupt (Ctrl-C) or a request to end cancels it, so that nothing stays half written; it then ends
/// in an Error.
void withProgress(const std::function<void(Progress&)>& work);

/// "0:42", "1:03:20".
std::string clock(double seconds);

}  // namespace gswarm::tool
