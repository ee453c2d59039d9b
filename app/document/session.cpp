#include "app/document/session.h"

#include <algorithm>
#include <utility>

#include "core/base/error.h"

using namespace gswarm;

bool Session::Instances::contains(std::uint64_t id) const { return std::binary_search(ids.begin(), ids.end(), id); }

void Session::chooseInstances(ObjectId swarm, std::vector<std::uint64_t> ids) {
    std::sort(ids.begin(), ids.end());
    ids.erase(std::unique(ids.begin(), ids.end()), ids.end());
    if (swarm == instances_.swarm && ids == instances_.ids) return;
    instances_ = {swarm, std::move(ids)};
    emit instancesChanged();
    if (!tallied_) return;
    // The cards go on telling of an instance: the one that was chosen last takes over.
    if (instances_.ids.size() == 1)
        tally(instances_.ids.front());
    else if (!instances_.contains(*tallied_))
        tally(std::nullopt);
}

void Session::toggleInstance(ObjectId swarm, std::uint64_t id) {
    auto ids = swarm == instances_.swarm ? instances_.ids : std::vector<std::uint64_t>{};
    const auto at = std::lower_bound(ids.begin(), ids.end(), id);
    if (at != ids.end() && *at == id)
        ids.erase(at);
    else
        ids.insert(at, id);
    chooseInstances(swarm, std::move(ids));
}

void Session::tally(std::optional<std::uint64_t> id) {
    if (id == tallied_) return;
    tallied_ = id;
    emit tallyChanged();
}

void Session::setRehearsal(int share) {
    if (share == rehearsal_) return;
    rehearsal_ = share;
    emit viewChanged();
}

void Session::setLight(bool on) {
    if (on == light_) return;
    light_ = on;
    emit viewChanged();
}

void Session::pin(ObjectId zone, bool on) {
    if (on)
        pinned_.insert(zone);
    else
        pinned_.erase(zone);
    emit pinsChanged();
}

void Session::keep(const Scene& scene) {
    kept_ = scene;
    emit viewChanged();
}

void Session::compare(bool on) {
    if (on == comparing_ || (on && !kept_)) return;
    comparing_ = on;
    emit viewChanged();
}

void Session::setGhosts(const Ghosts& ghosts) {
    ghosts_ = ghosts;
    emit viewChanged();
}

void Session::vary(const Variations& variations) {
    variations_ = variations;
    left_.reset();
    emit viewChanged();
}

void Session::stopVarying() {
    if (!variations_) return;
    variations_.reset();
    emit viewChanged();
}

void Session::keepVariation(const Scene& from) {
    if (!variations_) return;
    left_ = {*std::exchange(variations_, std::nullopt), from};
    emit viewChanged();
}

void Session::rejoin(const Scene& scene) {
    if (!left_ || !(left_->second == scene)) return;
    variations_ = left_->first;
    left_.reset();
    emit viewChanged();
}

namespace {

/// Another kind in the same slot has other parameters under the same places.
bool stillMeans(const Scene& scene, const Session::Variations& variations) {
    try {
        return scene.find(variations.number.object) && parseAddress(scene, variations.text) == variations.number;
    } catch (const Error&) {
        return false;
    }
}

}  // namespace

Session::Forgotten Session::forgetWhatIsGone(const Scene& scene) {
    Forgotten forgotten;
    forgotten.pins = std::erase_if(pinned_, [&](ObjectId zone) { return !scene.find(zone); }) > 0;
    if (instances_.swarm && !scene.find(instances_.swarm)) {
        forgotten.tally = std::exchange(tallied_, std::nullopt).has_value();
        instances_ = {};
        forgotten.instances = true;
    }
    if (variations_ && !stillMeans(scene, *variations_)) {
        variations_.reset();
        forgotten.view = true;
    }
    return forgotten;
}

void Session::announce(const Forgotten& forgotten) {
    if (forgotten.instances) emit instancesChanged();
    if (forgotten.tally) emit tallyChanged();
    if (forgotten.pins) emit pinsChanged();
    if (forgotten.view) emit viewChanged();
}

void Session::reset() {
    instances_ = {};
    tallied_.reset();
    rehearsal_ = 1;
    light_ = false;
    pinned_.clear();
    kept_.reset();
    comparing_ = false;
    ghosts_ = {};
    variations_.reset();
    left_.reset();
    emit instancesChanged();
    emit tallyChanged();
    emit pinsChanged();
    emit viewChanged();
}
