#include "app/document/document.h"

#include <algorithm>
#include <utility>

#include "core/base/error.h"
#include "core/edit/key_edits.h"
#include "core/file/project_file.h"
#include "core/kinds/registry.h"
#include "core/resolve/references.h"
#include "core/resolve/resolve.h"
#include "core/resolve/soundness.h"
#include "core/scene/frame_range.h"
#include "core/time/track.h"

using namespace gswarm;

Document::Document(QObject* parent) : QObject(parent), history_(emptyScene()), savedScene_(history_.scene()) {
    connect(this, &Document::sceneChanged, this, [this] { read_.reset(); });
}

ObjectId Document::edit(const MakeEdit& make) {
    try {
        Edit made = make(scene());
        refuseUnsound(made.scene, scene());
        const ObjectId id = made.made;
        history_.apply(std::move(made), chosen_);
        emit trouble({});
        tellScene();
        return id;
    } catch (const Error& error) {
        emit trouble(error.what());
        return {};
    }
}

void Document::setNumber(const Address& address, double value) {
    edit([&](const Scene& s) {
        if (!recording_) return gswarm::setNumber(s, address, value, frame_);
        Edit recorded = gswarm::setNumber(s, address, value, frame_);
        const Numbers& numbers = numbersAt(s, address);
        const bool fixed = !numbers[static_cast<std::size_t>(std::max(address.component, 0))].moves();
        if (fixed && !parameterAt(s, address).still) recorded.scene = toggleKey(recorded.scene, address, frame_).scene;
        return recorded;
    });
}
void Document::setValue(const Address& address, const Value& value) {
    edit([&](const Scene& s) { return gswarm::setValue(s, address, value); });
}

void Document::undo() {
    if (!history_.canUndo()) return;
    const ObjectId before = history_.undo(chosen_);
    tellScene();
    session_.rejoin(scene());
    if (scene().find(before)) choose(before);
}

void Document::redo() {
    if (!history_.canRedo()) return;
    const ObjectId after = history_.redo(chosen_);
    tellScene();
    if (scene().find(after)) choose(after);
}

void Document::tellScene() {
    const Scene& now = scene();
    const Session::Forgotten forgotten = session_.forgetWhatIsGone(now);
    const auto forget = [&](ObjectId& id) { return id && !now.find(id) && std::exchange(id, ObjectId{}); };
    const bool solo = forget(solo_), handled = forget(handled_), chosen = forget(chosen_);
    // A link that waits for its other end is given up with the number it began at.
    const bool linking = linked_ && !exists(now, *linked_);
    if (linking) linked_.reset();
    emit sceneChanged();
    if (chosen) emit chosenChanged();
    session_.announce(forgotten);
    if (solo || handled || linking) emit sessionChanged();
}

void Document::renew() {
    emit sceneChanged();
    emit chosenChanged();
    emit frameChanged();
    emit sessionChanged();
}

void Document::choose(ObjectId id) {
    if (id == chosen_ || (id && !scene().find(id))) return;
    history_.seal();
    chosen_ = id;
    // What several swarms share, or none uses, leaves the rail where it is.
    if (id && scene().find(id) && !(swarm() && uses(swarm(), id)))
        for (const ObjectId swarm : scene().all(ObjectType::swarm))
            if (uses(swarm, id)) swarm_ = swarm;
    const bool placed =
        id.type() == ObjectType::zone || id.type() == ObjectType::swarm || id.type() == ObjectType::shape || id.type() == ObjectType::mount;
    handled_ = placed ? id : ObjectId{};
    if (id.type() == ObjectType::gesture)
        if (const auto zones = wovenZones(scene(), id); !zones.empty()) handled_ = zones.front();
    emit chosenChanged();
    emit sessionChanged();
}

/// Whether a swarm is, owns or refers to what is chosen, through however many things.
bool Document::uses(ObjectId object, ObjectId chosen) const {
    if (object == chosen) return true;
    for (const ObjectId used : usedBy(scene(), object))
        if (used.type() != ObjectType::swarm && uses(used, chosen)) return true;
    return false;
}

ObjectId Document::swarm() const {
    const auto swarms = scene().all(ObjectType::swarm);
    if (std::find(swarms.begin(), swarms.end(), swarm_) != swarms.end()) return swarm_;
    return swarms.empty() ? ObjectId{} : swarms.front();
}

void Document::setHandled(ObjectId object) {
    if (handled_ == object || (object && !scene().find(object))) return;
    handled_ = object;
    emit sessionChanged();
}

void Document::setFrame(double frame) {
    if (frame == frame_) return;
    frame_ = frame;
    history_.seal();
    emit frameChanged();
}

void Document::setSolo(ObjectId railEntry) {
    if (railEntry && !scene().find(railEntry)) return;
    solo_ = railEntry;
    emit sessionChanged();
}

void Document::vary(const Address& number) {
    if (!exists(scene(), number) || !std::holds_alternative<Numbers>(valueOf(scene(), number))) return;
    const Numbers& tracks = numbersAt(scene(), number);
    const double now = valueAt(scene(), tracks[static_cast<std::size_t>(std::max(number.component, 0))], frame_);
    session_.vary({number, toText(scene(), number), standardVariations(parameterAt(scene(), number), now)});
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

void Document::startLink(const Address& number) {
    linked_ = number;
    emit sessionChanged();
}

void Document::cancelLink() {
    if (!std::exchange(linked_, std::nullopt)) return;
    emit sessionChanged();
}

void Document::linkTo(const Address& number) {
    if (!linked_) return;
    const Address from = *std::exchange(linked_, std::nullopt);
    edit([&](const Scene& s) { return setLink(s, from, suggestedLink(s, from, number)); });
    history_.seal();
    if (scene().find(from.object)) choose(from.object);
    emit sessionChanged();
}

bool Document::followed(const Address& number) const {
    if (!read_) read_ = numbersRead(scene());
    return !read_->empty() && read_->contains(toText(scene(), number));
}

void Document::setRecording(bool on) {
    recording_ = on;
    emit sessionChanged();
}

bool Document::pickable(ObjectId id) const {
    return picking() && std::find(pickTypes_.begin(), pickTypes_.end(), id.type()) != pickTypes_.end();
}

void Document::click(ObjectId id) {
    if (!picking()) return choose(id);
    if (!pickable(id) || !scene().find(id)) return;
    const Picked picked = std::exchange(picked_, nullptr);
    picked(id);
    emit sessionChanged();
}

void Document::replace(Scene scene, const std::filesystem::path& path) {
    history_ = History(std::move(scene));
    path_ = path;
    chosen_ = handled_ = solo_ = swarm_ = {};
    picked_ = nullptr;
    linked_.reset();
    recording_ = false;
    session_.reset();
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
        emit trouble(QString(error.what()) + " The open project is untouched.");
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
