#pragma once
#include <string>
#include <vector>

#include "core/flow/plan.h"
#include "core/scene/scene.h"

namespace CLI {
class App;
}

/// The command line's commands. Each adds itself to the application and does its work when it is chosen.
/// Values go to standard output, progress to standard error.
namespace gswarm {
class Store;
}

namespace gswarm::tool {

/// The project file and the values put over it, which most commands take.
struct Source {
    std::string file;
    std::vector<std::string> sets;  ///< ADDRESS=VALUE
    std::string bake;               ///< where baked frames lie, if not beside the project

    void addTo(CLI::App& command);
    /// Throws Error, and UsageError for a --set that is none.
    Scene load() const;
    /// Evaluation finds the project's files beside it.
    PlanOptions options() const;
    /// Frames that were baked need not be made.
    void useBake(Store& store) const;
};

/// The swarm of that name, or the only one. Throws Error that lists the names.
ObjectId swarmNamed(const Scene& scene, const std::string& name);

void addInfo(CLI::App& app);
void addEvaluate(CLI::App& app);
void addTally(CLI::App& app);
void addLoopCheck(CLI::App& app);
void addKinds(CLI::App& app);
void addValidate(CLI::App& app);
void addExport(CLI::App& app);
void addRender(CLI::App& app);
void addBake(CLI::App& app);
void addCopy(CLI::App& app);
void addRecord(CLI::App& app);
void addSubmit(CLI::App& app);
void addBench(CLI::App& app);

}  // namespace gswarm::tool
