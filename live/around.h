#pragma once
#include <memory>

#include "core/light/far_light.h"
#include "core/picture/blurred_panorama.h"
#include "live/program.h"

namespace gswarm::live {

/// The surroundings as the driver has them: sharp, and blurred for rough and matt surfaces. Made anew when their picture is another.
/// Belongs to the context that is current when it is made.
class Around {
  public:
    Around();
    ~Around();
    Around(const Around&) = delete;
    Around& operator=(const Around&) = delete;

    /// Whether any of them gives light.
    static bool shines(const std::vector<Surroundings>& all);
    /// The brightest of them is mirrored; the others count as light that comes evenly from everywhere. Their textures take this unit
    /// and the next.
    struct Light {
        glm::vec3 evenly{0};
        SmoothLight matt{};  ///< of the brightest, what white matt paper sends back
    };
    Light use(Program& program, const std::vector<Surroundings>& all, int unit);

  private:
    void take(const std::shared_ptr<const Panorama>& picture);

    std::weak_ptr<const Panorama> picture_;
    SmoothLight matt_{};
    unsigned sharp_ = 0, blurred_ = 0;
};

}  // namespace gswarm::live
