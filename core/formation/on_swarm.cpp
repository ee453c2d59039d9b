// Instances where another swarm's shown instances are; ids are theirs.
#include "core/base/error.h"
#include "core/formation/formation_kind.h"
#include "core/shape/homes.h"

namespace gswarm {
namespace {

struct OnSwarm {
    ObjectId swarm;
    bool turned, sized;
};

Homes make(const OnSwarm& on, const FormationSource& source) {
    if (!on.swarm) throw Error("Choose the swarm to stand on.");
    Homes homes = source.swarm(on.swarm);
    if (!on.turned) homes.rotation.clear();
    if (!on.sized) homes.size.clear();
    return homes;
}

double count(const OnSwarm& on, const FormationSource& source) {
    if (!on.swarm) throw Error("Choose the swarm to stand on.");
    return static_cast<double>(source.swarm(on.swarm).count());
}

}  // namespace

const FormationKind onSwarmFormation =
    stores(DescribeFormation<OnSwarm>("onSwarm", "On another swarm", "Where the instances of another swarm are, after its gestures")
               .reference("swarm", &OnSwarm::swarm, {ObjectType::swarm}, "The swarm they stand on")
               .toggle("turned", &OnSwarm::turned, true, "Each is turned like the instance it stands on")
               .toggle("sized", &OnSwarm::sized, false, "Each is sized like the instance it stands on"),
           count, make);

}  // namespace gswarm
