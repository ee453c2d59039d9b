#pragma once
#include <stdexcept>

namespace gswarm {

/// Something a user, a file or the system did that cannot be carried out. `what()` is one sentence for a person:
/// what is wrong, where, what was kept, what to do.
class Error : public std::runtime_error {
  public:
    using std::runtime_error::runtime_error;
};

/// Thrown out of long work after Progress::cancel(). Not an error: whoever cancelled knows.
struct Cancelled {};

}  // namespace gswarm
