#include "app/document/document.h"

#include <algorithm>

#include "core/base/error.h"
#include "core/exchange/export.h"
#include "core/scene/project_file.h"

using namespace gswarm;

Document::Document(QObject* parent) : QObject(parent), history_(emptyScene()), savedScene_(history_.scene()) {}

ObjectId Document::edit(const MakeEdit& make) {
    try {
        Edit made = make(scene());
        const ObjectId id = made.made;
        history_.apply(std::move(made), chosen_);
        forgetWhatIsGone();
        emit trouble({});
        emit sceneChanged();
        return id;
    } catch (const Error& error) {
        emit trouble(error.what());
        return {};
    }
}

void Document::setNumber(const Address& address, double value) {
    edit([&](const Scene& s) { return gswarm::setNumber(s, address, value, frame_); });
}
void Document::setValue(const Address& address, const Value& value) {
    edit([&](const Scene& s) { return gswarm::setValue(s, address, value); });
}

void Document::undo() {
    if (!history_.canUndo()) return;
    const ObjectId before = history_.undo(chosen_);
    forgetWhatIsGone();
    emit sceneChanged();
    if (scene().find(before)) choose(before);
}

void Document::redo() {
    if (!history_.canRedo()) return;
    const ObjectId after = history_.redo(chosen_);
    forgetWhatIsGone();
    emit sceneChanged();
    if (scene().find(after)) choose(after);
}

void Document::forgetWhatIsGone() {
    if (solo_ && !scene().find(solo_)) solo_ = {};
    if (handleZone_ && !scene().find(handleZone_)) handleZone_ = {};
    if (chosen_ && !scene().find(chosen_)) {
        chosen_ = {};
        emit chosenChanged();
    }
}

void Document::choose(ObjectId id) {
    if (id == chosen_) return;
    history_.seal();
    chosen_ = id;
    handleZone_ = id.type() == ObjectType::zone ? id : ObjectId{};
    if (id.type() == ObjectType::gesture)
        if (const auto& weave = scene().at(id).list("weave"); !weave.empty())
            handleZone_ = referenceOf(scene().at(weave.front()).part("entry"), "zone");
    emit chosenChanged();
    emit sessionChanged();
}

ObjectId Document::swarm() const {
    const auto swarms = scene().all(ObjectType::swarm);
    for (const ObjectId swarm : swarms) {
        if (swarm == chosen_) return swarm;
        const Object& object = scene().at(swarm);
        for (const auto& list : object.lists)
            if (std::find(list.begin(), list.end(), chosen_) != list.end()) return swarm;
        for (const ObjectId entry : object.list("rail"))
            if (referenceOf(scene().at(entry).part("entry"), "gesture") == chosen_) return swarm;
    }
    return swarms.empty() ? ObjectId{} : swarms.front();
}

void Document::setHandleZone(ObjectId zone) {
    if (handleZone_ == zone) return;
    handleZone_ = zone;
    emit sessionChanged();
}

void Document::setFrame(double frame) {
    if (frame == frame_) return;
    frame_ = frame;
    history_.seal();
    emit frameChanged();
}

void Document::setSolo(ObjectId railEntry) {
    solo_ = railEntry;
    emit sessionChanged();
}

void Document::startPick(std::vector<ObjectType> allowed, const Picked& picked) {
    pickTypes_ = std::move(allowed);
    picked_ = picked;
    emit sessionChanged();
}

void Document::cancelPick() {
    if (!picked_) return;
    picked_ = nullptr;
    emit sessionChanged();
}

bool Document::pickable(ObjectId id) const {
    return picking() && std::find(pickTypes_.begin(), pickTypes_.end(), id.type()) != pickTypes_.end();
}

void Document::click(ObjectId id) {
    if (!picking()) return choose(id);
    if (!pickable(id)) return;
    const Picked picked = std::exchange(picked_, nullptr);
    picked(id);
    emit sessionChanged();
}

void Document::replace(Scene scene, const std::filesystem::path& path) {
    history_ = History(std::move(scene));
    path_ = path;
    chosen_ = handleZone_ = solo_ = {};
    picked_ = nullptr;
    frame_ = framesOf(this->scene()).first;
    emit trouble({});
    emit fileChanged();
    emit sceneChanged();
    emit chosenChanged();
    emit frameChanged();
    emit sessionChanged();
}

void Document::newProject() {
    Scene scene = emptyScene();
    savedScene_ = scene;
    replace(std::move(scene), {});
}

bool Document::open(const std::filesystem::path& path) {
    try {
        Scene scene = loadProject(path);
        savedScene_ = scene;
        replace(std::move(scene), path);
        if (const auto swarms = this->scene().all(ObjectType::swarm); !swarms.empty()) choose(swarms.front());
        return true;
    } catch (const Error& error) {
        emit trouble(error.what());
        return false;
    }
}

bool Document::save(const std::filesystem::path& path) {
    try {
        saveProject(scene(), path);
    } catch (const Error& error) {
        emit trouble(error.what());
        return false;
    }
    savedScene_ = scene();
    path_ = path;
    history_.seal();
    emit trouble({});
    emit fileChanged();
    return true;
}

void Document::adopt(Scene scene, const std::filesystem::path& path) { replace(std::move(scene), path); }
