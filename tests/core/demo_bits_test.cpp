// The demos give the same bits as ever, on every machine: tests/files/demo_bits.txt keeps a hash of each swarm at some frames.
// A change that is meant to alter numbers renews its lines and says so. Bodies are worked out by a library that may go by the processor: of
// Pearls only the first frame is kept.
#include <gtest/gtest.h>

#include <fstream>
#include <sstream>

#include "core/evaluate/evaluator.h"
#include "core/exchange/csv.h"
#include "core/file/project_file.h"

using namespace gswarm;

namespace {

/// FNV-1a, 64 bits, of all lines behind the first.
std::uint64_t hashOfRows(const std::string& csv) {
    std::uint64_t hash = 0xcbf29ce484222325u;
    for (std::size_t i = csv.find('\n') + 1; i < csv.size(); ++i) hash = (hash ^ static_cast<unsigned char>(csv[i])) * 0x100000001b3u;
    return hash;
}

}  // namespace

TEST(DemoBits, AreThoseThatWereKept) {
    std::ifstream lines(GSWARM_SOURCE "/tests/files/demo_bits.txt");
    std::string demo, swarm;
    double frame = 0;
    std::uint64_t hash = 0;
    Evaluator evaluator(2);
    Progress progress;
    std::string open;
    Scene scene;
    int compared = 0;
    while (lines >> demo >> swarm >> frame >> std::hex >> hash >> std::dec) {
        const std::string shipped = GSWARM_SOURCE "/demo/" + demo + ".gswarm", kept = GSWARM_SOURCE "/tests/files/" + demo + ".gswarm";
        if (open != demo) scene = loadProject(std::filesystem::exists(shipped) ? shipped : kept);
        open = demo;
        std::ostringstream csv;
        writeCsv(evaluator.plan(scene, parseObjectId(swarm), frame, {{}, GSWARM_SOURCE "/demo"}, progress), scene, csv);
        EXPECT_EQ(hashOfRows(csv.str()), hash) << demo << ' ' << swarm << " at frame " << frame;
        ++compared;
    }
    EXPECT_GE(compared, 40);
}
