// Files that are brought into a project, and projects that are copied with their files.
#include <filesystem>
#include <fstream>

#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/edit/import_edits.h"
#include "core/exchange/project_copy.h"
#include "core/file/project_file.h"
#include "core/kinds/registry.h"
#include "core/provide/bring_in.h"
#include "core/resolve/soundness.h"

using namespace gswarm;
using making::Build;
namespace fs = std::filesystem;

namespace {

const char* const triangle = "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n";

struct Folders {
    fs::path root = making::temporaryFolder() / ("import-" + std::to_string(++made));
    fs::path outside = root / "outside", project = root / "project";
    FileHashes hashes;
    static inline int made = 0;

    Folders() {
        fs::create_directories(outside);
        fs::create_directories(project);
    }
    fs::path write(const fs::path& path, const std::string& text) {
        fs::create_directories(path.parent_path());
        std::ofstream(path) << text;
        return path;
    }
};

std::size_t filesIn(const fs::path& folder) {
    std::size_t count = 0;
    for (const auto& entry : fs::recursive_directory_iterator(folder)) count += entry.is_regular_file() ? 1 : 0;
    return count;
}

}  // namespace

TEST(BringIn, CopiesOnceKeepsWhatLiesThereAndGivesOtherContentANumber) {
    Folders f;
    const fs::path fish = f.write(f.outside / "fish.obj", triangle);
    EXPECT_EQ(pathWithin(fish, f.project), std::nullopt);
    EXPECT_EQ(bringIn(fish, f.project, f.hashes), "fish.obj");
    EXPECT_EQ(readFile(f.project / "fish.obj", 1000), triangle);
    EXPECT_EQ(bringIn(fish, f.project, f.hashes), "fish.obj") << "the same content is not copied twice";
    EXPECT_EQ(filesIn(f.project), 1u);
    f.write(f.outside / "other/fish.obj", std::string(triangle) + "# another\n");
    EXPECT_EQ(bringIn(f.outside / "other/fish.obj", f.project, f.hashes), "fish-2.obj");
    const fs::path inside = f.write(f.project / "shapes/eel.obj", triangle);
    EXPECT_EQ(bringIn(inside, f.project, f.hashes), "shapes/eel.obj");
    EXPECT_EQ(filesIn(f.project), 3u);
    EXPECT_THROW(bringIn(f.outside / "nowhere.obj", f.project, f.hashes), Error);
}

TEST(BringIn, AGltfTakesItsBuffersAlongAndNeverReachesOut) {
    Folders f;
    const auto gltf = [](const std::string& uri) {
        return R"({"asset":{"version":"2.0"},"buffers":[{"uri":")" + uri + R"(","byteLength":4}]})";
    };
    f.write(f.outside / "data/reef.bin", "abcd");
    const fs::path reef = f.write(f.outside / "reef.gltf", gltf("data/reef.bin"));
    EXPECT_EQ(bringIn(reef, f.project, f.hashes), "reef/reef.gltf");
    EXPECT_EQ(readFile(f.project / "reef/data/reef.bin", 100), "abcd");
    f.write(f.root / "secret.bin", "abcd");
    const fs::path hostile = f.write(f.outside / "hostile.gltf", gltf("../secret.bin"));
    const std::size_t before = filesIn(f.project);
    EXPECT_THROW(bringIn(hostile, f.project, f.hashes), Error);
    EXPECT_EQ(filesIn(f.project), before) << "nothing is left of what can't be brought in whole";
}

TEST(Import, EndingsFindTheKindsThatReadThem) {
    const auto ids = [](const char* ending) {
        std::vector<std::string> all;
        for (const Kind* kind : kindsReading(ending)) all.push_back(kind->id);
        return all;
    };
    EXPECT_EQ(ids(".obj"), std::vector<std::string>{"meshFile"});
    EXPECT_EQ(ids(".svg"), std::vector<std::string>{"artwork"});
    EXPECT_EQ(ids(".ttf"), std::vector<std::string>{"lettering"});
    EXPECT_EQ(ids(".csv"), std::vector<std::string>{"pointsFile"});
    EXPECT_EQ(ids(".ply"), (std::vector<std::string>{"meshFile", "pointsFile"}));
    EXPECT_TRUE(ids(".exe").empty());
}

TEST(Import, AMeshBecomesAShapeAndPointsASwarm) {
    Folders f;
    f.write(f.project / "fish.obj", triangle);
    f.write(f.project / "points.csv", "0,0,0\n1,0,0\n2,0,0\n");
    const Edit shape = importShape(emptyScene(), *findKind(Family::shape, "meshFile"), "fish.obj");
    EXPECT_EQ(shape.scene.at(shape.made).name, "fish");
    refuseUnsound(shape.scene);
    const Edit swarm = importPoints(shape.scene, *findKind(Family::formation, "pointsFile"), "points.csv");
    refuseUnsound(swarm.scene);
    Progress progress;
    Evaluator evaluator(2);
    EXPECT_EQ(evaluator.evaluate(swarm.scene, swarm.made, 0, {{}, f.project}, progress)->count, 3);
}

TEST(ProjectCopy, TakesAllFilesAlongAndOverwritesNone) {
    Folders f;
    f.write(f.project / "shapes/fish.obj", triangle);
    Scene scene = importShape(emptyScene(), *findKind(Family::shape, "meshFile"), "shapes/fish.obj").scene;
    scene = importShape(scene, *findKind(Family::shape, "artwork"), "gone.svg").scene;
    EXPECT_EQ(filesOf(scene, f.project), std::vector<std::string>{"shapes/fish.obj"});
    Progress progress;
    const fs::path to = f.root / "copy/reef.gswarm";
    fs::create_directories(to.parent_path());
    const auto missing = copyProject(scene, f.project, to, progress);
    ASSERT_EQ(missing.size(), 1u);
    EXPECT_NE(missing.front().find("gone.svg"), std::string::npos);
    EXPECT_TRUE(loadProject(to) == scene);
    EXPECT_EQ(readFile(f.root / "copy/shapes/fish.obj", 1000), triangle);
    copyProject(scene, f.project, to, progress);  // the same once more is no trouble
    f.write(f.root / "copy/shapes/fish.obj", "something else");
    EXPECT_THROW(copyProject(scene, f.project, to, progress), Error);
    EXPECT_EQ(readFile(f.root / "copy/shapes/fish.obj", 1000), "something else");
}
