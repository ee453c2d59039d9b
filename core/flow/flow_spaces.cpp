#include "core/flow/flow_spaces.h"

#include <tbb/enumerable_thread_specific.h>

#include "core/flow/flow.h"

namespace gswarm {

struct FlowSpaces::Made {
    tbb::enumerable_thread_specific<std::unique_ptr<FlowSpace>> spaces{[] { return std::make_unique<FlowSpace>(); }};
};

FlowSpaces::FlowSpaces() : made_(std::make_unique<Made>()) {}
FlowSpaces::~FlowSpaces() = default;

FlowSpace& FlowSpaces::local() {
    FlowSpace& space = *made_->spaces.local();
    space.remember = nullptr;
    return space;
}

}  // namespace gswarm
