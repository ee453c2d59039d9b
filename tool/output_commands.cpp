// export, render and bench.
#include <CLI/CLI.hpp>

#include <chrono>
#include <iostream>
#include <nlohmann/json.hpp>
#include <thread>

#include "core/base/error.h"
#include "core/evaluate/bench.h"
#include "core/exchange/export.h"
#include "tool/commands.h"

namespace gswarm::tool {
namespace {

/// Runs the work and tells its progress on standard error, every ten percent.
void withProgress(const std::function<void(Progress&)>& work) {
    Progress progress;
    std::atomic<bool> done{false};
    std::thread watcher([&] {
        int shown = -1;
        while (!done) {
            const int percent = static_cast<int>(progress.fraction() * 100);
            if (percent >= shown + 10) std::cerr << "gswarm: " << (shown = percent) << " %\n";
            std::this_thread::sleep_for(std::chrono::milliseconds(50));
        }
    });
    const auto finish = [&] {
        done = true;
        watcher.join();
    };
    try {
        work(progress);
    } catch (...) {
        finish();
        throw;
    }
    finish();
}

PlanOptions optionsFor(const Source& source) { return {{}, {std::filesystem::path(source.file).parent_path()}}; }

/// "A-B", also with frames below 0 such as "-10-5" or "-10--5".
FrameRange parseFrames(const std::string& text) {
    const auto dash = text.find('-', 1);
    try {
        if (dash != std::string::npos) {
            std::size_t used = 0, usedLast = 0;
            const std::string first = text.substr(0, dash), last = text.substr(dash + 1);
            const FrameRange range{std::stoi(first, &used), std::stoi(last, &usedLast)};
            if (used == first.size() && usedLast == last.size() && range.first <= range.last) return range;
        }
    } catch (const std::exception&) {
    }
    throw Error("--frames takes A-B with A not above B, such as 0-124, not “" + text + "”.");
}

TraceSize parseSize(const std::string& text, int samples, std::uint32_t seed) {
    TraceSize size;
    char rest = 0;
    if (std::sscanf(text.c_str(), "%dx%d%c", &size.width, &size.height, &rest) != 2)
        throw Error("--size takes WIDTHxHEIGHT, such as 1920x1080, not “" + text + "”.");
    size.samples = samples;
    size.seed = seed;
    return size;
}

}  // namespace

void addExport(CLI::App& app) {
    struct Options {
        Source source;
        std::string out;
        double frame = 0;
        bool baked = false;
        std::string frames;
    };
    auto* command = app.add_subcommand("export", "glTF 2.0 as .glb: a still with instancing, or plain nodes with baked animation");
    auto options = std::make_shared<Options>();
    options->source.addTo(*command);
    command->add_option("OUT", options->out, "The .glb file")->required();
    command->add_option("--frame", options->frame, "Which frame of the still");
    command->add_flag("--baked", options->baked, "Plain nodes with keys for every frame");
    command->add_option("--frames", options->frames, "A-B: which frames are baked; all of the piece if not given");
    command->callback([options] {
        const Scene scene = options->source.load();
        if (std::filesystem::path(options->out).extension() != ".glb") throw Error("“" + options->out + "” must end in .glb.");
        Evaluator evaluator;
        const PlanOptions plan = optionsFor(options->source);
        withProgress([&](Progress& progress) {
            if (options->baked)
                exportGltfBaked(evaluator, scene, plan, options->frames.empty() ? framesOf(scene) : parseFrames(options->frames),
                                options->out, progress);
            else
                exportGltfStill(evaluator, scene, plan, options->frame, options->out, progress);
        });
        std::cerr << "gswarm: wrote " << options->out << '\n';
    });
}

void addRender(CLI::App& app) {
    struct Options {
        Source source;
        std::string out, size = "1280x720", frames;
        double frame = 0;
        int samples = 64;
        std::uint32_t seed = 1;
    };
    auto* command = app.add_subcommand("render", "Traced pictures as PNG");
    auto options = std::make_shared<Options>();
    options->source.addTo(*command);
    command->add_option("OUT", options->out, "The .png file; with --frames a number is put before the ending")->required();
    command->add_option("--frame", options->frame, "Which frame");
    command->add_option("--frames", options->frames, "A-B: a numbered sequence");
    command->add_option("--size", options->size, "WIDTHxHEIGHT in pixels");
    command->add_option("--samples", options->samples, "Paths a pixel");
    command->add_option("--seed", options->seed, "Seed of the grain");
    command->callback([options] {
        const Scene scene = options->source.load();
        if (std::filesystem::path(options->out).extension() != ".png") throw Error("“" + options->out + "” must end in .png.");
        const TraceSize size = parseSize(options->size, options->samples, options->seed);
        Evaluator evaluator;
        const PlanOptions plan = optionsFor(options->source);
        withProgress([&](Progress& progress) {
            if (options->frames.empty())
                exportStill(evaluator, scene, plan, options->frame, size, options->out, progress);
            else
                exportSequence(evaluator, scene, plan, parseFrames(options->frames), size, options->out, progress);
        });
    });
}

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
    for (int instances = 1000; instances <= 4'096'000; instances *= 4) {
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
    command->add_flag("--sizes", options->sizes, "Also the yardstick from 1000 to 4 million instances");
    command->add_option("--instances", options->instances, "How many")->check(CLI::Range(1000, 16'000'000));
    command->add_option("--threads", options->threads, "On how many threads")->check(CLI::Range(1, 256));
    command->add_option("--runs", options->runs, "Median of how many")->check(CLI::Range(3, 1000));
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
