#pragma once
#include <array>
#include <glm/vec3.hpp>
#include <span>

#include "live/gathered.h"

namespace gswarm::live {

/// What differs from one instance to the next, as the driver takes it: attributes of the mesh whose vertex array is bound. Belongs to the
/// context that is current when it is made.
class InstanceBuffers {
  public:
    InstanceBuffers();
    ~InstanceBuffers();
    InstanceBuffers(const InstanceBuffers&) = delete;
    InstanceBuffers& operator=(const InstanceBuffers&) = delete;

    /// So many instances of a batch: 2 to 4 are their matrices, 5 their colours, 7 their mixes, 10 their places on a sheet and 12 the
    /// sides that are closed; 0 for what the batch has not.
    void use(const Batch& batch, int first, int count);
    /// 11: which lamps may shine on each of them, as lamp_lists.h has them.
    void useLamps(std::span<const glm::uvec3> lists);
    /// The same of all.
    static void useLamps(const glm::uvec3& list);
    /// A buffer of matrices alone, for what draws nothing else of instances in between.
    unsigned matrixBuffer() const { return buffers_[0]; }

  private:
    std::array<unsigned, 6> buffers_{};
};

}  // namespace gswarm::live
