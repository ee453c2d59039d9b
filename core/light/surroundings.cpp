// Light from all around as a picture has it.
#include "core/light/light_kind.h"

namespace gswarm {
namespace {

struct SurroundingsLight {
    bool on;
    SurroundingsPicture picture;
    std::string file;
    float strength, around;
    glm::vec4 tint;
};

void shine(const SurroundingsLight& s, FarLight& all) {
    if (!s.on || (s.picture == SurroundingsPicture::file && s.file.empty())) return;
    all.surroundings.push_back({s.picture, s.file, glm::vec3(s.tint) * s.strength, s.around, nullptr, {}});
}

}  // namespace

const LightKind surroundingsLight = fromEverywhere(
    farLight(DescribeLight<SurroundingsLight>("surroundings", "Surroundings", "Light and mirrored things from a picture of all directions")
                 .toggle("on", &SurroundingsLight::on, true, "Surroundings that are off give no light")
                 .choice("picture", &SurroundingsLight::picture,
                         {{"softBoxes", "Soft boxes"}, {"harbour", "Harbour at dusk"}, {"morning", "Morning sky"}, {"file", "From a file"}},
                         "What is all around: one of those that come along, or a picture of your own")
                 .file("file", &SurroundingsLight::file, {".exr", ".hdr"},
                       "A picture of all directions twice as wide as high, its middle ahead (-Z), its upper edge straight up")
                 .only("picture", {"file"})
                 .number("strength", &SurroundingsLight::strength, 1, {0, 4}, "Brightness; 1 for as the picture has it")
                 .hard(0, 1e4)
                 .angle("around", &SurroundingsLight::around, 0, {-180, 180}, "Turns it about the vertical")
                 .colour("tint", &SurroundingsLight::tint, {1, 1, 1, 1}, "Multiplies its colours")
                 .opaque()
                 .found("environment panorama hdri image based lighting dome"),
             shine));

}  // namespace gswarm
