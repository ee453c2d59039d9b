#pragma once
#include <chrono>
#include <filesystem>
#include <map>
#include <memory>
#include <mutex>
#include <optional>
#include <string>
#include <thread>
#include <tuple>

#include "core/provide/sounds.h"
#include "core/provide/store.h"

namespace gswarm {

/// Listens to a project's sounds for the numbers that follow them. A sound is looked through when it is first asked for; the thread that
/// never waits hears silence until another has done so.
class Listener : public Listening {
  public:
    explicit Listener(std::filesystem::path projectFolder, std::optional<std::thread::id> neverWaits = std::nullopt)
        : neverWaits_(neverWaits), folder_(std::move(projectFolder)) {}
    /// Where the project's files lie from now on.
    void setFolder(const std::filesystem::path& projectFolder);
    double heard(const Scene& scene, ObjectId sound, std::string_view number, double frame) const override;

  private:
    /// What was heard of one number of a sound as it was.
    struct Known {
        std::shared_ptr<const Object> sound;
        std::uint64_t key = 0;
        double start = 0;
        std::shared_ptr<const HeardValues> values;  ///< null where nothing can be heard
        std::chrono::steady_clock::time_point asked;
    };

    using Key = std::tuple<const Object*, std::string, double>;
    std::shared_ptr<const Known> find(const Key& key) const;
    std::shared_ptr<const Known> listen(const Scene& scene, const std::shared_ptr<const Object>& sound, std::string_view number,
                                        const std::shared_ptr<const Known>& before) const;

    std::optional<std::thread::id> neverWaits_;
    mutable std::mutex mutex_;    ///< of the folder and what is known
    mutable std::mutex working_;  ///< of who looks through a sound
    std::filesystem::path folder_;
    mutable std::map<Key, std::shared_ptr<const Known>> known_;
    mutable Store store_{std::size_t{256} << 20};
};

}  // namespace gswarm
