// The JSON Schema and the reader agree on what a project file may be.
#include <gtest/gtest.h>

#include <filesystem>
#include <random>
#include <valijson/adapters/nlohmann_json_adapter.hpp>
#include <valijson/schema.hpp>
#include <valijson/schema_parser.hpp>
#include <valijson/validator.hpp>

#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/file/project_file.h"
#include "tests/core/making.h"

using namespace gswarm;
using Json = nlohmann::json;

namespace {

/// The schema, and why it refuses.
class Checker {
  public:
    Checker() : json_(Json::parse(projectSchema())) {
        valijson::SchemaParser parser;
        const valijson::adapters::NlohmannJsonAdapter adapter(json_);
        parser.populateSchema(adapter, schema_);
    }
    /// Quick: nothing is written down of what does not fit.
    bool takes(const Json& project) const {
        valijson::Validator validator;
        return validator.validate(schema_, valijson::adapters::NlohmannJsonAdapter(project), nullptr);
    }
    std::string refusal(const Json& project) const {
        valijson::ValidationResults problems;
        valijson::Validator validator;
        if (validator.validate(schema_, valijson::adapters::NlohmannJsonAdapter(project), &problems)) return {};
        std::string all;
        for (valijson::ValidationResults::Error problem; problems.popError(problem);) {
            for (const std::string& step : problem.context) all += step;
            all += ": " + problem.description + "\n";
        }
        return all.empty() ? "refused" : all;
    }

  private:
    Json json_;
    valijson::Schema schema_;
};

std::string readerRefusal(const Json& project) {
    try {
        parseProject(project.dump(), "mutated");
        return {};
    } catch (const Error& error) {
        return error.what();
    }
}

/// What the description of the schema says that it can't say.
bool beyondSchema(const std::string& said) {
    for (const char* words : {"used twice", "ascending order", "out of order", "frame rate", "formation of its own", "stand on themselves",
                              "hang from themselves", "follow themselves", "no link"})
        if (said.find(words) != std::string::npos) return true;
    return false;
}

/// One value anywhere in a tree, found by walking down by chance.
Json* anywhere(Json& root, std::mt19937& dice) {
    Json* at = &root;
    for (int depth = 0; depth < 14; ++depth) {
        if (!at->is_structured() || at->empty()) break;
        if (depth > 1 && dice() % 5 == 0) break;
        auto child = at->begin();
        std::advance(child, dice() % at->size());
        at = &*child;
    }
    return at;
}

void mutate(Json& root, std::mt19937& dice) {
    Json* at = anywhere(root, dice);
    if (at == &root) return;
    static const std::vector<Json> values = {
        nullptr,
        true,
        false,
        0,
        1,
        -1,
        0.5,
        1e6,
        -1e6,
        1.0000001e6,
        1e9,
        2e9,
        1e300,
        "",
        "x",
        "none",
        "s00000000000",
        "z0000000000i",
        Json::array(),
        Json::object(),
        Json::array({0, 1}),
        Json::array({0, 0, 0}),
        Json{{"keys", Json::array()}, {"before", "hold"}, {"after", "hold"}},
        Json{{"keys", {{0, 1, "eased", 0, 0}}}, {"before", "hold"}, {"after", "repeat"}},
        Json{{"keys", {{0, 1, "eased", 0, 0}}}, {"before", "hold"}},
        Json{{"keys", {{0, 1e12, "eased", 0, 0}}}, {"before", "hold"}, {"after", "hold"}},
        Json{{"keys", {{1e8, 1, "eased", 0, 0}}}, {"before", "hold"}, {"after", "hold"}},
        Json{{"formula", "t"}, {"names", Json::object()}, {"value", 1}},
        Json{{"formula", "t"}, {"names", Json::object()}},
        Json{{"formula", "t"}, {"names", {{"a", 3}}}, {"value", 1}},
        Json{{"formula", std::string(longestFormula + 1, '1')}, {"names", Json::object()}, {"value", 0}},
        Json{{"link", "x/y"},
             {"from", {0, 1}},
             {"onto", {0, 1}},
             {"curve", Json::array()},
             {"clip", false},
             {"step", 0},
             {"delay", 0},
             {"value", 0.5}},
        Json{{"link", "x/y"},
             {"from", {0, 1}},
             {"onto", {0, 1}},
             {"curve", Json::array()},
             {"clip", false},
             {"step", -1},
             {"delay", 0},
             {"value", 0.5}},
        Json{{"at", 0.5}, {"colour", {1, 0, 0, 1}}},
        Json{{"at", 1.5}, {"colour", {1, 0, 0, 1}}}};
    switch (dice() % 6) {
        case 0:
            if (at->is_object() && !at->empty()) {
                auto gone = at->begin();
                std::advance(gone, dice() % at->size());
                at->erase(gone);
                return;
            }
            [[fallthrough]];
        case 1:
            if (at->is_object()) {
                (*at)["somethingElse"] = values[dice() % values.size()];
                return;
            }
            [[fallthrough]];
        case 2:
            if (at->is_array() && !at->empty()) {
                if (dice() % 2)
                    at->erase(at->begin() + static_cast<std::ptrdiff_t>(dice() % at->size()));
                else
                    at->push_back(at->front());
                return;
            }
            [[fallthrough]];
        case 3:
            if (at->is_array()) {
                at->clear();
                return;
            }
            [[fallthrough]];
        default:
            *at = values[dice() % values.size()];
    }
}

const char* const demoNames[] = {"anemone",         "basin",     "reef",        "chorus",   "soundings",   "coral-bell", "grotto",
                                 "gullet",          "kelp",      "lantern-fry", "nautilus", "pearls",      "porthole",   "chain",
                                 "reef-sign-swept", "reef-sign", "shoal",       "sonar",    "tidal-floor", "urchin"};

Json demo(const std::string& name) { return Json::parse(readFile(GSWARM_SOURCE "/demo/" + name + ".gswarm", 1 << 24)); }

}  // namespace

TEST(Schema, IsCurrentAndTakesEveryDemo) {
    EXPECT_EQ(readFile(GSWARM_SOURCE "/docs/schema/gswarm-9.schema.json", 1 << 22), projectSchema())
        << "run: gswarm kinds --schema > docs/schema/gswarm-9.schema.json";
    Checker schema;
    int demos = 0;
    for (const auto& entry : std::filesystem::directory_iterator(GSWARM_SOURCE "/demo"))
        if (entry.path().extension() == ".gswarm") {
            EXPECT_EQ(schema.refusal(demo(entry.path().stem().string())), "");
            EXPECT_EQ(readerRefusal(demo(entry.path().stem().string())), "");
            ++demos;
        }
    EXPECT_EQ(demos, static_cast<int>(std::size(demoNames))) << "list the new one above";
}

class SchemaOf : public testing::TestWithParam<const char*> {};

TEST_P(SchemaOf, RefusesAndTakesWhatTheReaderDoes) {
    Checker schema;
    std::mt19937 dice(5);
    int refused = 0, taken = 0;
    const Json whole = demo(GetParam());
    // Sanitizers, which the library that checks schemas keeps busy for minutes, see a third of them.
    const int rounds = making::sanitized ? 30 : 90;
    for (int round = 0; round < rounds; ++round) {
        Json mutated = whole;
        for (unsigned k = 0; k <= dice() % 2; ++k) mutate(mutated, dice);
        // Older versions have rules of their own.
        if (mutated.contains("version") && mutated["version"] != projectVersion) continue;
        const bool takes = schema.takes(mutated);
        const std::string byReader = readerRefusal(mutated);
        if (takes == byReader.empty()) {
            ++(takes ? taken : refused);
            continue;
        }
        EXPECT_TRUE(takes && beyondSchema(byReader)) << "schema: “" << schema.refusal(mutated) << "”\nreader: “" << byReader << "”";
    }
    EXPECT_GT(refused, rounds * 2 / 9);
    EXPECT_GT(taken, rounds / 45);
}
INSTANTIATE_TEST_SUITE_P(Demos, SchemaOf, testing::ValuesIn(demoNames));
