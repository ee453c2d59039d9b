#pragma once
#include <btBulletCollisionCommon.h>

#include <cstdint>
#include <deque>
#include <span>
#include <utility>
#include <vector>

/// Which bodies of a Bullet world come near each other, found anew in every step and in an order of their own: a world that is built for
/// each frame gains nothing from a tree that remembers. Bodies lie in rows of cells by where their boxes begin, each in cells of about
/// its own size (a hierarchical grid: Ericson, Real-Time Collision Detection, 7.2), and rows are swept along X.
namespace gswarm {

class NearPairs final : public btBroadphaseInterface {
  public:
    btBroadphaseProxy* createProxy(const btVector3& least, const btVector3& most, int shapeType, void* object, int group, int mask,
                                   btDispatcher*) override;
    void destroyProxy(btBroadphaseProxy* proxy, btDispatcher* dispatcher) override;
    void setAabb(btBroadphaseProxy* proxy, const btVector3& least, const btVector3& most, btDispatcher*) override;
    void getAabb(btBroadphaseProxy* proxy, btVector3& least, btVector3& most) const override;
    void rayTest(const btVector3& from, const btVector3& to, btBroadphaseRayCallback& callback, const btVector3& least,
                 const btVector3& most) override;
    void aabbTest(const btVector3& least, const btVector3& most, btBroadphaseAabbCallback& callback) override;
    /// Pairs whose boxes overlap; of balls only if they nearly touch, and none of two that rest.
    void calculateOverlappingPairs(btDispatcher* dispatcher) override;
    btOverlappingPairCache* getOverlappingPairCache() override { return &pairs_; }
    const btOverlappingPairCache* getOverlappingPairCache() const override { return &pairs_; }
    void getBroadphaseAabb(btVector3& least, btVector3& most) const override;
    void printStats() override {}

    /// Forgets all pairs, before the world goes.
    void forgetPairs(btDispatcher& dispatcher);

  private:
    struct Proxy : btBroadphaseProxy {
        using btBroadphaseProxy::btBroadphaseProxy;
        float radius = 0;  ///< of a ball; 0 for others
    };
    /// A box where it lies in the order of rows.
    struct Box {
        float leastX, mostX, leastY, mostY, leastZ, mostZ;
        int number;
    };
    struct Row {
        std::uint64_t key;  ///< level, and cells along Y and Z
        int begin, end;
    };
    struct Placed {
        std::uint64_t key;
        float leastX;
        int number;
        bool operator<(const Placed& other) const { return key != other.key ? key < other.key : leastX < other.leastX; }
    };

    void sortIntoRows();
    void sweep(const Row& row);
    void sweep(const Row& one, const Row& other);
    void meetCoarser(const Row& row);
    const Row* rowOf(std::uint64_t key) const;
    Box boxOf(int number) const;
    void lookAlong(const Box& one, const Box& other);
    void look(const Box& one, const Box& other);  ///< two that overlap along X
    void keepFound(btDispatcher& dispatcher);

    std::deque<Proxy> proxies_;    ///< which Bullet points to
    std::vector<int> everywhere_;  ///< those without bounds, or too large for cells
    std::vector<Placed> placed_;
    std::vector<Box> boxes_;
    std::vector<Row> rows_;
    std::vector<int> levels_;  ///< in which something lies, ascending
    std::vector<std::pair<int, int>> found_;
    std::vector<int> begins_, ends_, partners_;
    std::vector<btBroadphasePair> next_;
    btSortedOverlappingPairCache pairs_;
};

}  // namespace gswarm
