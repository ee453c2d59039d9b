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
    for (std::size_t i = 0; i < homes.count(); ++i) {
        if (!on.turned) homes.setTurn(i, {1, 0, 0, 0});
        if (!on.sized) homes.size[i] = 1;
    }
    return homes;
}

double count(const OnSwarm& on, const FormationSource& source) {
    if (!on.swarm) throw Error("Choose the swarm to stand on.");
    return static_cast<double>(source.swarm(on.swarm).count());
}

}  // namespace

const FormationKind onSwarmFormation =
    stores(DescribeFormation<OnSwarm>("onSwarm", "On another swarm", "Where the instances of another swarm are, after its gestures")
               .found("nested copy instances swarm")
               .reference("swarm", &OnSwarm::swarm, {ObjectType::swarm}, "The swarm they stand on")
               .toggle("turned", &OnSwarm::turned, true, "Each is turned like the instance it stands on")
               .toggle("sized", &OnSwarm::sized, false, "Each is sized like the instance it stands on"),
           count, make);

}  // namespace gswarm
