#pragma once
#include <cstdint>
#include <optional>
#include <QObject>
#include <set>
#include <vector>

#include "core/edit/variations.h"
#include "core/scene/scene.h"

/// How the person looks at the project beside what is chosen and the frame: never saved in it, never undone.
class Session : public QObject {
    Q_OBJECT

  public:
    using QObject::QObject;

    // ---- instances chosen in the picture or the ledger, by id
    struct Instances {
        gswarm::ObjectId swarm;
        std::vector<std::uint64_t> ids;  ///< ascending
        bool contains(std::uint64_t id) const;
    };
    const Instances& instances() const { return instances_; }
    void chooseInstances(gswarm::ObjectId swarm, std::vector<std::uint64_t> ids);
    /// Adds one to the choice, or takes it out.
    void toggleInstance(gswarm::ObjectId swarm, std::uint64_t id);

    /// The instance whose values the cards show, one after the other; it belongs to instances().swarm.
    std::optional<std::uint64_t> tallied() const { return tallied_; }
    void tally(std::optional<std::uint64_t> id);

    /// Work on one of so many instances; 1 for all.
    int rehearsal() const { return rehearsal_; }
    void setRehearsal(int share);
    /// Light stand-ins of stock are shown where there are some.
    bool light() const { return light_; }
    void setLight(bool on);

    /// Zones that are drawn whatever is chosen.
    bool pinned(gswarm::ObjectId zone) const { return pinned_.contains(zone); }
    const std::set<gswarm::ObjectId>& pinned() const { return pinned_; }
    void pin(gswarm::ObjectId zone, bool on);

    // ---- a version kept to compare with
    void keep(const gswarm::Scene& scene);
    bool hasKept() const { return kept_.has_value(); }
    const gswarm::Scene& kept() const { return *kept_; }
    bool comparing() const { return comparing_; }
    void compare(bool on);

    // ---- ghosts of other frames
    struct Ghosts {
        bool on = false;
        int before = 2, after = 2;
        int step = 5;  ///< frames
    };
    const Ghosts& ghosts() const { return ghosts_; }
    void setGhosts(const Ghosts& ghosts);

    // ---- nine values of one number side by side
    struct Variations {
        gswarm::Address number;
        std::string text;  ///< of the address, which tells whether it still means the same
        gswarm::VariationRange range;
    };
    const std::optional<Variations>& variations() const { return variations_; }
    void vary(const Variations& variations);
    void stopVarying();
    /// Leaves the variations of a scene because one of them is kept; rejoin() with the same scene brings them back.
    void keepVariation(const gswarm::Scene& from);
    void rejoin(const gswarm::Scene& scene);

    /// What of the session changed, to be told once everything fits the scene again.
    struct Forgotten {
        bool instances = false, tally = false, pins = false, view = false;
    };
    /// Lets go of what the scene no longer has, in silence; announce() tells it.
    Forgotten forgetWhatIsGone(const gswarm::Scene& scene);
    void announce(const Forgotten& forgotten);
    /// For another project.
    void reset();

  signals:
    void instancesChanged();
    void tallyChanged();
    void pinsChanged();
    /// Something else is to be evaluated: rehearsal, comparing, ghosts, variations.
    void viewChanged();

  private:
    Instances instances_;
    std::optional<std::uint64_t> tallied_;
    int rehearsal_ = 1;
    bool light_ = false;
    std::set<gswarm::ObjectId> pinned_;
    std::optional<gswarm::Scene> kept_;
    bool comparing_ = false;
    Ghosts ghosts_;
    std::optional<Variations> variations_;
    std::optional<std::pair<Variations, gswarm::Scene>> left_;
};
