#pragma once
#include <memory>

namespace gswarm {

struct FlowSpace;

/// The workspaces of threads: one for each, made when it first wants one and kept, because making one costs more than
/// many a block. What is in it is whatever the thread left there.
class FlowSpaces {
  public:
    FlowSpaces();
    ~FlowSpaces();
    /// This thread's own; it remembers nothing for later frames. Not to be held while other parallel work is waited for.
    FlowSpace& local();

  private:
    struct Made;
    std::unique_ptr<Made> made_;
};

}  // namespace gswarm
