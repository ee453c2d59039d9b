#include "core/formation/formation_kind.h"

namespace gswarm {

void setHome(HomeColumns& out, int i, const glm::vec3& position, const glm::quat& rotation, float size, std::uint64_t id) {
    out.position.x[i] = position.x;
    out.position.y[i] = position.y;
    out.position.z[i] = position.z;
    out.rotation.x[i] = rotation.x;
    out.rotation.y[i] = rotation.y;
    out.rotation.z[i] = rotation.z;
    out.rotation.w[i] = rotation.w;
    out.size[i] = size;
    out.idLow[i] = static_cast<std::uint32_t>(id);
    out.idHigh[i] = static_cast<std::uint32_t>(id >> 32);
}

}  // namespace gswarm
