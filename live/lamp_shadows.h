#pragma once
#include <glm/mat4x4.hpp>
#include <span>
#include <vector>

#include "core/light/light_kind.h"
#include "live/casters.h"

namespace gswarm::live {

/// Shadows of the first few lamps: how far from each the first thing in its way is, side by side in one map. A spot or flat lamp takes
/// one place of sixteen, a point six. Kept like those of the sun. Belongs to the context that is current when it is made.
class LampShadows {
  public:
    LampShadows() : map_(size) {}

    /// How many lamps from the first on can throw shadows: places are few.
    static std::size_t fitting(std::span<const Lamp> lamps);

    bool has(const std::vector<Cast>& casts, std::span<const Lamp> lamps) const;
    /// Draws what is opaque of a list as these lamps see it; they must fit. Of very many things some stand for all. Leaves another
    /// framebuffer and viewport bound.
    void draw(const DrawList& list, std::span<const Lamp> lamps, CasterDrawer& drawer, GpuMeshes& meshes, unsigned matrixBuffer);
    /// Puts it into a texture unit, and how it is read into a program.
    void use(Program& program, int unit) const;

    static constexpr int places = 16, across = 4, size = 2048;

  private:
    DepthMap map_;
    std::vector<Cast> casts_;
    std::vector<Lamp> lamps_;
    std::vector<glm::mat4> toMap_;  ///< by place
    std::vector<float> first_;      ///< place of each lamp
    std::vector<float> texel_;      ///< of each lamp: metres a pixel is wide, a metre away
};

}  // namespace gswarm::live
