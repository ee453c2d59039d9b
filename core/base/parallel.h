#pragma once
#include <algorithm>
#include <functional>
#include <memory>
#include <vector>

/// The one way in which work is spread over cores: everything here uses the threads of the `Workers` it is called within, or
/// all cores outside of any. What ranges throw is thrown on where they were started, once no other still runs.
namespace gswarm {

/// Calls `work(begin, end)` for ranges that together are 0 … count, each once. What is no longer than `grain` is not cut; how
/// long the ranges are beyond that is up to who is idle. All has been done, and is seen, when it returns.
void forRanges(std::size_t count, std::size_t grain, const std::function<void(std::size_t begin, std::size_t end)>& work);

/// Calls `work(i)` for 0 … count.
void forEach(std::size_t count, const std::function<void(std::size_t i)>& work);

/// A team of threads that is never larger than was asked for.
class Workers {
  public:
    /// 0 means as many as there are cores.
    explicit Workers(int threads);
    ~Workers();
    int count() const;
    /// Calls `work` on the team: all that it spreads over cores stays there.
    void run(const std::function<void()>& work) const;

  private:
    struct Team;
    std::unique_ptr<Team> team_;
};

/// Sorts as std::sort does; `before` has to tell any two apart, so that the order is the same for any number of threads.
template <class T, class Before>
void sortInParallel(std::vector<T>& items, const Before& before) {
    constexpr std::size_t piece = 32768;
    const auto at = [&](std::size_t n) { return items.begin() + static_cast<std::ptrdiff_t>(std::min(n, items.size())); };
    forEach((items.size() + piece - 1) / piece, [&](std::size_t p) { std::sort(at(p * piece), at((p + 1) * piece), before); });
    for (std::size_t sorted = piece; sorted < items.size(); sorted *= 2)
        forEach((items.size() + 2 * sorted - 1) / (2 * sorted),
                [&](std::size_t p) { std::inplace_merge(at(2 * p * sorted), at((2 * p + 1) * sorted), at((2 * p + 2) * sorted), before); });
}

}  // namespace gswarm
