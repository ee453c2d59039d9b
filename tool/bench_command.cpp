// bench: the yardstick, every kind, and how they grow.
#include <CLI/CLI.hpp>

#include <iostream>
#include <nlohmann/json.hpp>

#include "core/measure/bench.h"
#include "tool/commands.h"
#include "tool/usage.h"

namespace gswarm::tool {
namespace {

using Json = nlohmann::ordered_json;

struct BenchOptions {
    bool json = false, kinds = false, sizes = false;
    int instances = 1'000'000, threads = 2, runs = 31;
};

Json yardstickJson(const BenchOptions& o) {
    const YardstickFigures f = measureYardstick(o.instances, o.threads, o.runs);
    return {{"instances", f.instances},
            {"threads", f.threads},
            {"target", f.target},
            {"runs", f.runs},
            {"frame_ms", f.frameMilliseconds},
            {"least_ms", f.leastMilliseconds},
            {"copy_ms", f.copyMilliseconds},
            {"copies", f.frameMilliseconds / f.copyMilliseconds},
            {"bytes_per_instance", f.bytesPerInstance}};
}

Json kindsJson(const BenchOptions& o) {
    Json kinds = Json::array();
    for (const KindFigure& f : measureKinds(o.instances, o.runs))
        kinds.push_back({{"family", f.family}, {"kind", f.kind}, {"ns_per_instance", f.nanoseconds}});
    return kinds;
}

Json followJson(const BenchOptions& o) {
    const FollowFigure f = measureFollowThrough(std::min(o.instances, 100'000), 500, o.threads);
    return {{"instances", f.instances},
            {"frame", f.frame},
            {"cold_ms", f.coldMilliseconds},
            {"warm_ms", f.warmMilliseconds},
            {"play_ms", f.playMilliseconds}};
}

Json neighboursJson(const BenchOptions& o) {
    Json neighbours = Json::array();
    for (const NeighbourFigure& f : measureNeighbours(std::min(o.instances, 100'000), o.threads, o.runs))
        neighbours.push_back({{"kind", f.kind}, {"instances", f.instances}, {"frame_ms", f.milliseconds}});
    return neighbours;
}

Json sizesJson(const BenchOptions& o) {
    Json sizes = Json::array();
    for (int instances = 1000; instances / 4.1 <= o.instances; instances *= 4) {
        const YardstickFigures f = measureYardstick(instances, o.threads, o.runs);
        sizes.push_back({{"instances", f.instances}, {"frame_ms", f.frameMilliseconds}});
    }
    return sizes;
}

void tell(const Json& json) {
    const Json& y = json["yardstick"];
    std::cout << y["instances"] << " instances on " << y["threads"] << " threads (" << y["target"].get<std::string>()
              << "): " << y["frame_ms"] << " ms a frame, " << y["least_ms"] << " undisturbed; a copy of the result takes " << y["copy_ms"]
              << " ms\n";
    for (const Json& k : json.value("kinds", Json::array()))
        std::cout << k["family"].get<std::string>() << ' ' << k["kind"].get<std::string>() << ": " << k["ns_per_instance"]
                  << " ns an instance\n";
    for (const Json& n : json.value("neighbours", Json::array()))
        std::cout << n["kind"].get<std::string>() << " among " << n["instances"] << ": " << n["frame_ms"] << " ms a frame\n";
    if (json.contains("followThrough")) {
        const Json& f = json["followThrough"];
        std::cout << f["instances"] << " instances on springs: frame " << f["frame"] << " after " << f["cold_ms"] << " ms at first, "
                  << f["warm_ms"] << " ms again; " << f["play_ms"] << " ms a frame in a row\n";
    }
    for (const Json& s : json.value("sizes", Json::array()))
        std::cout << s["instances"] << " instances: " << s["frame_ms"] << " ms a frame\n";
}

}  // namespace

void addBench(CLI::App& app) {
    auto* command = app.add_subcommand("bench", "Measures the yardstick: a million instances through five gestures");
    auto options = std::make_shared<BenchOptions>();
    command->add_flag("--json", options->json, "As JSON");
    command->add_flag("--kinds", options->kinds, "Also every pattern, zone and gesture on one thread, and those that look at neighbours");
    command->add_flag("--sizes", options->sizes, "Also the yardstick from 1000 to four times as many instances");
    command->add_option("--instances", options->instances, "How many, 1000 to 16 million")
        ->check(wholeBetween(1000, 16'000'000))
        ->capture_default_str();
    command->add_option("--threads", options->threads, "On how many threads, 1 to 256")->check(wholeBetween(1, 256))->capture_default_str();
    command->add_option("--runs", options->runs, "Median of how many runs, 3 to 1000")->check(wholeBetween(3, 1000))->capture_default_str();
    command->callback([options] {
        Json json{{"yardstick", yardstickJson(*options)}};
        if (options->kinds) {
            json["kinds"] = kindsJson(*options);
            json["neighbours"] = neighboursJson(*options);
            json["followThrough"] = followJson(*options);
        }
        if (options->sizes) json["sizes"] = sizesJson(*options);
        if (options->json)
            std::cout << json.dump(1) << '\n';
        else
            tell(json);
    });
}

}  // namespace gswarm::tool
