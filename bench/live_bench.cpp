// How long live pictures take, without a window: on the machine's own OpenGL, which may be Mesa's software renderer.
#include <sys/resource.h>

#include <algorithm>
#include <chrono>
#include <cstdlib>
#include <iostream>
#include <nlohmann/json.hpp>
#include <vector>

#include "core/base/error.h"
#include "core/evaluate/evaluator.h"
#include "core/file/project_file.h"
#include "live/headless.h"
#include "live/renderer.h"

using namespace gswarm;

namespace {

constexpr int width = 800, height = 560;

/// The middle of several, milliseconds.
template <class Work>
double median(const Work& work) {
    std::vector<double> all;
    for (int k = 0; k < 7; ++k) {
        const auto start = std::chrono::steady_clock::now();
        work();
        all.push_back(std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count());
    }
    std::sort(all.begin(), all.end());
    return all[all.size() / 2];
}

}  // namespace

int main(int count, char** words) {
    if (count != 2) {
        std::cerr << "gswarm-live-bench PROJECT: a project's live picture as large as in a window of 1280 x 800, as it moves and at rest\n";
        return 2;
    }
    try {
        const Scene scene = loadProject(words[1]);
        const std::filesystem::path folder = std::filesystem::path(words[1]).parent_path();
        Evaluator evaluator;
        Progress progress;
        const auto evaluate = [&](double frame) {
            std::vector<std::shared_ptr<const Result>> swarms;
            for (const ObjectId swarm : scene.all(ObjectType::swarm))
                swarms.push_back(evaluator.evaluate(scene, swarm, frame, {{}, folder}, progress));
            return swarms;
        };
        auto swarms = evaluate(0);
        std::size_t instances = 0, leaves = 0;
        for (const auto& swarm : swarms) {
            instances += static_cast<std::size_t>(swarm->visible);
            if (swarm->shown) leaves += swarm->leaves;
        }
        const live::Headless context;
        live::Renderer renderer;
        live::LivePicture picture;
        picture.setting = settingAt(scene, 0, evaluator.store());
        addPictures(picture.setting, folder, evaluator.store());
        const std::atomic<bool> never{false};
        nlohmann::ordered_json told{{"instances", instances}, {"leaves", leaves}};
        const auto time = [&](const char* what, const live::Steps& steps, bool moved) {
            told[what] = median([&] {
                // A list of its own each time, as the view makes it; shadows are drawn anew where things moved.
                picture.list = drawListOf(swarms);
                if (moved) picture.setting.light.suns.front().size *= 1.0001f;
                picture.steps = steps;
                renderer.draw(picture, width, height, never);
            });
        };
        told["list_ms"] = median([&] { picture.list = drawListOf(swarms); });
        time("moving_ms", {false, false, false, false}, false);
        const bool sunny = !picture.setting.light.suns.empty();
        if (sunny) time("moving_shadowed_ms", {false, true, false, false}, true);
        if (sunny) time("turning_shadowed_ms", {false, true, false, false}, false);
        time("resting_ms", {true, sunny, true, true}, sunny);
        // Frame after frame, as a person plays them.
        double frame = 0;
        told["evaluating_ms"] = median([&] { swarms = evaluate(++frame); });
        told["playing_ms"] = median([&] {
            swarms = evaluate(++frame);
            picture.list = drawListOf(swarms);
            picture.steps = {false, false, false, false};
            renderer.draw(picture, width, height, never);
        });
        rusage used{};
        getrusage(RUSAGE_SELF, &used);
        told["most_megabytes"] = used.ru_maxrss / 1024;
        std::cout << told.dump(1) << '\n';
        return 0;
    } catch (const Error& error) {
        std::cerr << "gswarm-live-bench: " << error.what() << '\n';
        return 1;
    }
}
