#include "tests/core/making.h"
#include "core/kinds/registry.h"
#include "core/prepare/prepare.h"
#include "core/provide/store.h"

#include <gtest/gtest.h>
#include <unistd.h>

#include <csignal>
#include <fstream>

namespace gswarm::making {

Store& store() {
    static Store store;
    return store;
}

Build::Build() {
    Edit edit = addSwarm(emptyScene());
    scene = edit.scene;
    swarm = edit.made;
    formation = scene.at(swarm).list("formations").front();
    stock = scene.at(swarm).list("stock").front();
    shape = scene.all(ObjectType::shape).front();
    material = scene.all(ObjectType::material).front();
    set(stock, "foot", std::string("centre"));
    // Light is measured as it is.
    set(scene.all(ObjectType::project).front(), "display", std::string("plain"));
}

Build Build::grid(int nx, int ny, int nz) {
    Build build;
    build.set(build.formation, "count", {double(nx), double(ny), double(nz)});
    build.set(build.formation, "spacing", {1, 1, 1});
    return build;
}

Build& Build::set(ObjectId object, const std::string& parameter, const Value& value) {
    scene = setValue(scene, addressOf(scene, object, parameter), value).scene;
    return *this;
}
Build& Build::set(ObjectId object, const std::string& parameter, std::initializer_list<double> numbers) {
    return set(object, parameter, Value(fixedNumbers(numbers)));
}
Build& Build::key(ObjectId object, const std::string& parameter, std::vector<Key> keys, int component) {
    Numbers numbers = std::get<Numbers>(valueOf(scene, addressOf(scene, object, parameter)));
    numbers[static_cast<std::size_t>(component)] = {keys.front().value, std::make_shared<const std::vector<Key>>(std::move(keys))};
    return set(object, parameter, Value(numbers));
}
Build& Build::formationKind(const std::string& kind) {
    scene = setKind(scene, formation, "formation", *findKind(Family::formation, kind)).scene;
    return *this;
}

ObjectId Build::standOn(const std::string& kind, const std::string& shapeKind) {
    const Edit edit = addShape(scene, *findKind(Family::shape, shapeKind));
    scene = edit.scene;
    formationKind(kind);
    set(formation, "shape", Value(edit.made));
    return edit.made;
}

ObjectId Build::gesture(const std::string& pattern) {
    const Object made =
        standardObject(ObjectType::gesture, "Gesture", {kindsOf(Family::gesture).front(), findKind(Family::pattern, pattern)});
    Edit edit = addGesture(scene, swarm, made);
    scene = edit.scene;
    return edit.made;
}

ObjectId Build::zone(ObjectId gesture, const std::string& kind) {
    Edit edit = addZone(scene, gesture, *findKind(Family::zone, kind));
    scene = edit.scene;
    return edit.made;
}

Plan Build::plan(double frame, const std::filesystem::path& folder) const {
    static Store store;
    Progress progress;
    return prepare(scene, swarm, frame, {{}, folder}, store, progress);
}

std::vector<InstanceRow> Build::rows(double frame) const {
    std::vector<InstanceRow> rows;
    readInstances(plan(frame), scene, [&](const InstanceRow& row) {
        rows.push_back(row);
        return true;
    });
    return rows;
}

std::shared_ptr<const Result> Build::result(double frame, int threads) const {
    Evaluator evaluator(threads);
    Progress progress;
    return evaluator.evaluate(scene, swarm, frame, {}, progress);
}

void expectNear(const glm::vec3& a, const glm::vec3& b, float tolerance) {
    for (int c = 0; c < 3; ++c) EXPECT_NEAR(a[c], b[c], tolerance) << "component " << c;
}

std::map<std::uint64_t, glm::vec3> byId(const std::vector<InstanceRow>& rows) {
    std::map<std::uint64_t, glm::vec3> places;
    for (const auto& row : rows) EXPECT_TRUE(places.emplace(row.id, row.position).second) << "id " << row.id << " twice";
    return places;
}

glm::vec3 up(const InstanceRow& row) { return row.rotation * glm::vec3(0, 1, 0); }

std::vector<int> children(const std::string& name) {
    std::vector<int> found;
    for (const auto& process : std::filesystem::directory_iterator("/proc")) {
        std::ifstream about(process.path() / "stat");
        int id = 0, parent = 0;
        std::string called, state;
        if (about >> id >> called >> state >> parent && parent == ::getpid() && called == "(" + name + ")") found.push_back(id);
    }
    return found;
}

int endChildren(const std::string& name) {
    int ended = 0;
    for (const int id : children(name)) ended += ::kill(id, SIGKILL) == 0;
    return ended;
}

bool hasFfmpeg() { return std::system("ffmpeg -version > /dev/null 2>&1") == 0; }

const std::filesystem::path& temporaryFolder() {
    struct Folder {
        std::filesystem::path path = std::filesystem::temp_directory_path() / ("gswarm-core-" + std::to_string(::getpid()));
        Folder() { std::filesystem::create_directories(path); }
        ~Folder() { std::filesystem::remove_all(path); }
    };
    static const Folder made;
    return made.path;
}

}  // namespace gswarm::making
