#pragma once
#include "core/edit/edit.h"
#include "core/flow/plan.h"

namespace gswarm {

class Store;

/// Puts another kind of formation in, as setFormation(), so that what is seen at once makes sense: one whose count follows the
/// shape it stands on gets distances for some 600 instances and goes on fitting itself (`standing-fitted`), and stock that is
/// larger than the new spacing is fitted to it. What can't be made now is left at its standard settings.
Edit setFormationFitted(const Scene& scene, ObjectId formation, const Kind& kind, double frame, const PlanOptions& options, Store& store);

/// After any edit: formations that fit themselves follow shapes that the edit changed, and one whose length the person set by
/// the edit stops fitting itself.
void refit(const Scene& before, Edit& edit, double frame, const PlanOptions& options, Store& store);

/// Whether a swarm's stock could be fitted to its spacing, and is not yet.
bool canFitStock(const Scene& scene, ObjectId swarm);
/// Fits it. Throws Error if the formation has no spacing.
Edit fitStock(const Scene& scene, ObjectId swarm);

}  // namespace gswarm
