#pragma once
#include "core/material/material.h"
#include "live/program.h"
#include "live/textures.h"

namespace gswarm::live {

/// What of a look is drawn. Of what is mixed from mixed materials these are the outermost two.
struct DrawnLook {
    const Look *first, *second;  ///< the same of a plain one
};
DrawnLook drawnOf(const Look& look);
/// Whether pictures are on all of a surface.
bool hasPictures(const Look& look);
/// What instances show each of their own: of the first of its materials that does; null for none.
const ShownPictures* shownOn(const Look& look);

/// Whether it is seen through and its inside has a colour.
bool swallows(const Material& material);

/// Sets a look in a program of swarm.frag. Its pictures take ten texture units from `unit` on.
void setLook(Program& program, const Look& look, Textures& textures, int unit);
/// Where a mix goes along the mesh: set beside its look.
void setBox(Program& program, const Look& look, const glm::vec3& low, const glm::vec3& size);

}  // namespace gswarm::live
