#include "core/physics/near_pairs.h"

#include <algorithm>
#include <cmath>

namespace gswarm {
namespace {

constexpr float boundless = 1e18f;
constexpr float ballMargin = 0.04f;        // sizes, as Bullet widens the boxes of two
constexpr int finest = -8, coarsest = 20;  // cells have sides of two to the power of these
constexpr int outermost = (1 << 28) - 1;   // cell along an axis
constexpr std::uint64_t levelStep = 1ull << 58, yStep = 1ull << 29;

float sideOf(int level) { return std::ldexp(1.0f, level); }
int cellOf(float at, float side) {
    return static_cast<int>(std::clamp(std::floor(at / side), -static_cast<float>(outermost), static_cast<float>(outermost)));
}
std::uint64_t keyOf(int level, int y, int z) {
    return static_cast<std::uint64_t>(level - finest) * levelStep + static_cast<std::uint64_t>(y + outermost) * yStep +
           static_cast<std::uint64_t>(z + outermost);
}
int levelOf(std::uint64_t key) { return static_cast<int>(key / levelStep) + finest; }

bool overlap(const btBroadphaseProxy& one, const btVector3& least, const btVector3& most) {
    return one.m_aabbMin.x() <= most.x() && one.m_aabbMax.x() >= least.x() && one.m_aabbMin.y() <= most.y() &&
           one.m_aabbMax.y() >= least.y() && one.m_aabbMin.z() <= most.z() && one.m_aabbMax.z() >= least.z();
}

const btCollisionObject& objectOf(const btBroadphaseProxy& proxy) { return *static_cast<const btCollisionObject*>(proxy.m_clientObject); }

bool before(const btBroadphasePair& pair, int low, int high) {
    return pair.m_pProxy0->m_uniqueId != low ? pair.m_pProxy0->m_uniqueId < low : pair.m_pProxy1->m_uniqueId < high;
}

}  // namespace

btBroadphaseProxy* NearPairs::createProxy(const btVector3& least, const btVector3& most, int shapeType, void* object, int group, int mask,
                                          btDispatcher*) {
    Proxy& proxy = proxies_.emplace_back(least, most, object, group, mask);
    proxy.m_uniqueId = static_cast<int>(proxies_.size() - 1);
    if (shapeType == SPHERE_SHAPE_PROXYTYPE)
        proxy.radius = static_cast<const btSphereShape*>(objectOf(proxy).getCollisionShape())->getRadius();
    return &proxy;
}

void NearPairs::destroyProxy(btBroadphaseProxy* proxy, btDispatcher* dispatcher) {
    pairs_.removeOverlappingPairsContainingProxy(proxy, dispatcher);
    proxy->m_clientObject = nullptr;
}

void NearPairs::setAabb(btBroadphaseProxy* proxy, const btVector3& least, const btVector3& most, btDispatcher*) {
    proxy->m_aabbMin = least, proxy->m_aabbMax = most;
}
void NearPairs::getAabb(btBroadphaseProxy* proxy, btVector3& least, btVector3& most) const {
    least = proxy->m_aabbMin, most = proxy->m_aabbMax;
}
void NearPairs::getBroadphaseAabb(btVector3& least, btVector3& most) const {
    least.setValue(-boundless, -boundless, -boundless), most.setValue(boundless, boundless, boundless);
}

void NearPairs::rayTest(const btVector3& from, const btVector3& to, btBroadphaseRayCallback& callback, const btVector3& least,
                        const btVector3& most) {
    btVector3 begin = from, end = from;
    begin.setMin(to), end.setMax(to);
    aabbTest(begin + least, end + most, callback);
}

void NearPairs::aabbTest(const btVector3& least, const btVector3& most, btBroadphaseAabbCallback& callback) {
    for (const Proxy& proxy : proxies_)
        if (proxy.m_clientObject && overlap(proxy, least, most)) callback.process(&proxy);
}

void NearPairs::forgetPairs(btDispatcher& dispatcher) {
    btBroadphasePairArray& pairs = pairs_.getOverlappingPairArray();
    for (int k = 0; k < pairs.size(); ++k) pairs_.cleanOverlappingPair(pairs[k], &dispatcher);
    pairs.clear();
}

void NearPairs::calculateOverlappingPairs(btDispatcher* dispatcher) {
    sortIntoRows();
    found_.clear();
    for (const Row& row : rows_) {
        sweep(row);
        // Each pair of rows once: those that follow it.
        for (const std::uint64_t step : {std::uint64_t{1}, yStep - 1, yStep, yStep + 1})
            if (const Row* other = rowOf(row.key + step)) sweep(row, *other);
        if (levelOf(row.key) < levels_.back()) meetCoarser(row);
    }
    for (std::size_t k = 0; k < everywhere_.size(); ++k) {
        const Box box = boxOf(everywhere_[k]);
        for (const Box& other : boxes_) lookAlong(box, other);
        for (std::size_t j = k + 1; j < everywhere_.size(); ++j) lookAlong(box, boxOf(everywhere_[j]));
    }
    keepFound(*dispatcher);
}

void NearPairs::sortIntoRows() {
    placed_.clear(), everywhere_.clear(), boxes_.clear(), rows_.clear(), levels_.clear();
    for (const Proxy& proxy : proxies_) {
        if (!proxy.m_clientObject) continue;
        const btVector3 extent = proxy.m_aabbMax - proxy.m_aabbMin;
        const float largest = std::max({extent.x(), extent.y(), extent.z()});
        if (!(largest < sideOf(coarsest))) {
            everywhere_.push_back(proxy.m_uniqueId);
            continue;
        }
        const int level = std::max(finest, largest > 0 ? std::ilogb(largest) + 1 : finest);
        const float side = sideOf(level);
        placed_.push_back(
            {keyOf(level, cellOf(proxy.m_aabbMin.y(), side), cellOf(proxy.m_aabbMin.z(), side)), proxy.m_aabbMin.x(), proxy.m_uniqueId});
    }
    std::sort(placed_.begin(), placed_.end());
    for (const Placed& placed : placed_) {
        const auto at = static_cast<int>(boxes_.size());
        boxes_.push_back(boxOf(placed.number));
        if (rows_.empty() || rows_.back().key != placed.key) rows_.push_back({placed.key, at, at});
        rows_.back().end = at + 1;
        if (levels_.empty() || levels_.back() != levelOf(placed.key)) levels_.push_back(levelOf(placed.key));
    }
}

const NearPairs::Row* NearPairs::rowOf(std::uint64_t key) const {
    const auto row = std::lower_bound(rows_.begin(), rows_.end(), key, [](const Row& one, std::uint64_t k) { return one.key < k; });
    return row != rows_.end() && row->key == key ? &*row : nullptr;
}

void NearPairs::sweep(const Row& row) {
    for (int i = row.begin; i < row.end; ++i) {
        const Box& box = boxes_[static_cast<std::size_t>(i)];
        for (int j = i + 1; j < row.end && boxes_[static_cast<std::size_t>(j)].leastX <= box.mostX; ++j)
            look(box, boxes_[static_cast<std::size_t>(j)]);
    }
}

void NearPairs::sweep(const Row& one, const Row& other) {
    int i = one.begin, j = other.begin;
    const auto at = [&](int k) -> const Box& { return boxes_[static_cast<std::size_t>(k)]; };
    while (i < one.end && j < other.end) {
        const bool first = at(i).leastX <= at(j).leastX;
        const Box& box = first ? at(i++) : at(j++);
        for (int k = first ? j : i; k < (first ? other.end : one.end) && at(k).leastX <= box.mostX; ++k) look(box, at(k));
    }
}

void NearPairs::meetCoarser(const Row& row) {
    for (auto level = std::upper_bound(levels_.begin(), levels_.end(), levelOf(row.key)); level != levels_.end(); ++level) {
        const float side = sideOf(*level);
        for (int i = row.begin; i < row.end; ++i) {
            const Box& box = boxes_[static_cast<std::size_t>(i)];
            const int mostY = cellOf(box.mostY, side), mostZ = cellOf(box.mostZ, side);
            for (int y = cellOf(box.leastY - side, side); y <= mostY; ++y)
                for (int z = cellOf(box.leastZ - side, side); z <= mostZ; ++z) {
                    const Row* coarse = rowOf(keyOf(*level, y, z));
                    if (!coarse) continue;
                    const auto begin = boxes_.begin() + coarse->begin, end = boxes_.begin() + coarse->end;
                    auto near = std::lower_bound(begin, end, box.leastX - side, [](const Box& b, float x) { return b.leastX < x; });
                    for (; near != end && near->leastX <= box.mostX; ++near) lookAlong(box, *near);
                }
        }
    }
}

NearPairs::Box NearPairs::boxOf(int number) const {
    const Proxy& proxy = proxies_[static_cast<std::size_t>(number)];
    const btVector3 &least = proxy.m_aabbMin, &most = proxy.m_aabbMax;
    return {least.x(), most.x(), least.y(), most.y(), least.z(), most.z(), number};
}

void NearPairs::lookAlong(const Box& one, const Box& other) {
    if (one.leastX <= other.mostX && other.leastX <= one.mostX) look(one, other);
}

void NearPairs::look(const Box& one, const Box& other) {
    if (one.leastY > other.mostY || other.leastY > one.mostY || one.leastZ > other.mostZ || other.leastZ > one.mostZ) return;
    const Proxy &a = proxies_[static_cast<std::size_t>(one.number)], &b = proxies_[static_cast<std::size_t>(other.number)];
    if (!pairs_.needsBroadphaseCollision(const_cast<Proxy*>(&a), const_cast<Proxy*>(&b))) return;
    const btCollisionObject &first = objectOf(a), &second = objectOf(b);
    if (!first.isActive() && !second.isActive()) return;
    if (a.radius > 0 && b.radius > 0) {
        const float reach = a.radius + b.radius + ballMargin;
        if ((first.getWorldTransform().getOrigin() - second.getWorldTransform().getOrigin()).length2() > reach * reach) return;
    }
    found_.emplace_back(std::minmax(one.number, other.number));
}

/// Pairs in the order of their bodies; what was known of them goes on.
void NearPairs::keepFound(btDispatcher& dispatcher) {
    begins_.assign(proxies_.size() + 1, 0);
    for (const auto& [low, high] : found_) ++begins_[static_cast<std::size_t>(low) + 1];
    for (std::size_t i = 0; i < proxies_.size(); ++i) begins_[i + 1] += begins_[i];
    partners_.resize(found_.size());
    ends_.assign(begins_.begin(), begins_.end() - 1);
    for (const auto& [low, high] : found_) partners_[static_cast<std::size_t>(ends_[static_cast<std::size_t>(low)]++)] = high;
    btBroadphasePairArray& known = pairs_.getOverlappingPairArray();
    next_.clear();
    int k = 0;
    const auto forget = [&](int low, int high) {
        for (; k < known.size() && before(known[k], low, high); ++k) pairs_.cleanOverlappingPair(known[k], &dispatcher);
    };
    const auto count = static_cast<int>(proxies_.size());
    for (int low = 0; low < count; ++low) {
        const auto begin = partners_.begin() + begins_[static_cast<std::size_t>(low)],
                   end = partners_.begin() + begins_[static_cast<std::size_t>(low) + 1];
        std::sort(begin, end);
        for (auto high = begin; high != end; ++high) {
            forget(low, *high);
            const bool goesOn = k < known.size() && known[k].m_pProxy0->m_uniqueId == low && known[k].m_pProxy1->m_uniqueId == *high;
            next_.push_back(goesOn ? known[k++]
                                   : btBroadphasePair(proxies_[static_cast<std::size_t>(low)], proxies_[static_cast<std::size_t>(*high)]));
        }
    }
    forget(count, count);
    known.resizeNoInitialize(static_cast<int>(next_.size()));
    std::copy(next_.begin(), next_.end(), next_.empty() ? nullptr : &known[0]);
}

}  // namespace gswarm
