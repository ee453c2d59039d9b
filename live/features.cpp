#include "live/features.h"

#include <algorithm>
#include <utility>

#include "core/picture/blurred_panorama.h"
#include "live/look_uniforms.h"

namespace gswarm::live::feature {
namespace {

constexpr std::pair<Feature, const char*> names[] = {
    {shadowed, "SHADOWS"},          {surrounded, "AROUND"},     {lamplit, "LAMPS"},   {coated, "COATED"},        {mixedTwo, "MIXED"},
    {layered, "LAYERED"},           {rimmed, "RIMMED"},         {ghostly, "GHOST"},   {mixedOver, "MIXED_OVER"}, {pictured, "PICTURED"},
    {lampShadowed, "LAMP_SHADOWS"}, {guided, "GUIDED"},         {showing, "SHOWING"}, {mirroring, "MIRRORING"},  {byPixel, "BY_PIXEL"},
    {distant, "DISTANT"},           {swallowing, "SWALLOWING"}, {blended, "BLENDED"}};
constexpr const char* sunNames[] = {"SUNS 0", "SUNS 1", "SUNS 2", "SUNS 3", "SUNS 4"};

}  // namespace

std::vector<const char*> namesOf(unsigned features) {
    std::vector<const char*> all;
    for (const auto& [feature, name] : names)
        if (features & feature) all.push_back(name);
    all.push_back(sunNames[features / oneSun]);
    return all;
}

unsigned ofLook(const Look& look, bool around) {
    unsigned features = 0;
    const DrawnLook drawn = drawnOf(look);
    for (const Look* one : {drawn.first, drawn.second}) {
        if (one->plain.coat > 0 || one->plain.sheen > 0) features |= coated;
        if (one->plain.rim > 0) features |= rimmed;
        if (swallows(one->plain)) features |= swallowing;
        const float smoothest = one->plain.coat > 0 ? std::min(one->plain.roughness, one->plain.coatRoughness) : one->plain.roughness;
        if (around && (smoothest < BlurredPanorama::firstRoughness || one->pictures)) features |= mirroring;
    }
    if (look.mix) features |= mixedTwo;
    if (look.mix && differsOverSurface(*look.mix)) features |= mixedOver;
    if (hasPictures(look)) features |= pictured;
    if (shownOn(look)) features |= showing;
    if (features & (mixedOver | pictured | showing)) features |= byPixel;
    return features;
}

}  // namespace gswarm::live::feature
