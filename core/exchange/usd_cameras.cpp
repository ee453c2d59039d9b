// Cameras of a USD stage, and the one that is on at each frame.
#include "core/exchange/usd_things.h"

#include <glm/gtc/quaternion.hpp>

namespace gswarm::usd {
namespace {

Prim cameraPrim(const std::string& name, const std::string& label, double aspect, const std::function<Camera(int frame)>& camera) {
    Prim prim{"Camera", name, {displayName(label)}, {}, {}, {}};
    // Lengths of the lens count in tenths of a stage's unit, which is a metre here.
    constexpr double tenths = 0.01;
    const auto add = [&](const char* declared, const std::function<double(const Camera&)>& of) {
        prim.attributes.push_back({declared, [camera, of](int f) { return number(of(camera(f))); }, {}});
    };
    const auto across = [](const Camera& c) { return c.projection == Projection::parallel ? c.width * 10 : 36 * tenths; };
    add("float focalLength", [](const Camera& c) { return c.focalLength * tenths; });
    add("float horizontalAperture", across);
    add("float verticalAperture", [across, aspect](const Camera& c) { return across(c) / aspect; });
    add("float fStop", [](const Camera& c) { return c.focus == Focus::everything ? 0.0 : static_cast<double>(c.fNumber); });
    add("float focusDistance", [](const Camera& c) {
        return c.focus == Focus::target ? static_cast<double>(glm::length(c.target - c.position)) : static_cast<double>(c.focusDistance);
    });
    add("double shutter:open", [](const Camera& c) { return shutterOf(c, 0).first; });
    add("double shutter:close", [](const Camera& c) { return shutterOf(c, 0).second; });
    prim.attributes.push_back({"float2 clippingRange",
                               [camera](int f) {
                                   const Camera c = camera(f);
                                   const float near = std::max(c.nearCut, 0.01f);
                                   return Value{{near, c.farCut > near ? c.farCut : 10000}, {}, {}, 2, false};
                               },
                               {}});
    prim.attributes.push_back(
        {"token projection",
         [camera](int f) { return token(camera(f).projection == Projection::parallel ? "orthographic" : "perspective"); },
         {}});
    addPlacing(prim, [camera](int f) {
        const Camera c = camera(f);
        return WorldPose{c.position, glm::quat_cast(glm::inverse(viewMatrix(c))), 1};
    });
    return prim;
}

}  // namespace

std::vector<Prim> cameraPrims(FrameNow& now, std::vector<std::string>& taken) {
    std::vector<Prim> prims;
    const Scene& scene = now.frames().scene;
    const double aspect = pictureAspect(scene);
    prims.push_back(
        cameraPrim(identifier("Shot", taken), "What is seen, with its cuts", aspect, [&now](int f) { return now.setting(f).camera; }));
    for (const ObjectId id : scene.all(ObjectType::camera)) {
        const std::string& label = scene.at(id).name;
        prims.push_back(cameraPrim(identifier(label, taken), label, aspect, [&now, id](int f) { return now.camera(id, f); }));
    }
    return prims;
}

}  // namespace gswarm::usd
