#pragma once
#include <atomic>
#include <condition_variable>
#include <functional>
#include <map>
#include <memory>
#include <mutex>
#include <optional>
#include <QObject>
#include <QTimer>
#include <thread>

#include "app/document/rest_jobs.h"
#include "app/document/session.h"
#include "core/evaluate/evaluator.h"
#include "core/explain/acting_frame.h"
#include "core/explain/loop_check.h"
#include "core/read/collider_lines.h"
#include "core/read/force_lines.h"
#include "core/read/ledger.h"
#include "core/read/table.h"
#include "core/read/zone_contours.h"

struct Evaluated;

/// A swarm at another frame, drawn faintly.
struct Ghost {
    double frame = 0;
    float strength = 1;  ///< 1 for the nearest in time, less for those further away
    std::shared_ptr<const gswarm::Result> swarm;
};
/// What the picture would show with another value of the number that is varied.
struct Variation {
    double value = 0;
    std::shared_ptr<const Evaluated> shown;
};

/// What the panels and the picture show of one frame.
struct Evaluated {
    std::vector<std::shared_ptr<const gswarm::Result>> swarms;
    gswarm::Scene scene;
    double frame = 0;
    gswarm::PlanOptions options;
    std::vector<Ghost> ghosts;
    std::vector<Variation> variations;
    gswarm::ObjectId tallySwarm;                 ///< whose instance the tally is of
    std::vector<gswarm::TallyRow> tally;         ///< of one instance after each card; empty where none is asked for
    std::vector<gswarm::ZoneContours> contours;  ///< of the shown zones that have no form of their own
    std::vector<gswarm::ForceLines> forces;      ///< of the shown forces
    std::vector<gswarm::ZoneLines> colliders;    ///< of each variant of the shown swarm; empty where none are asked for
    gswarm::ObjectId weightsOf;                  ///< the rail entry whose weights are below, or none
    gswarm::ObjectId weighed;                    ///< the swarm whose they are
    std::vector<float> weights;                  ///< one an instance of its swarm
    double milliseconds = 0;
    gswarm::ObjectId dearest;                      ///< the gesture that took longest, or the swarm where it was none alone
    std::map<gswarm::ObjectId, QString> problems;  ///< swarms that can't be made, and why; they show their last result
};
Q_DECLARE_METATYPE(std::shared_ptr<const Evaluated>)

class Document;

/// Evaluates the document on a thread of its own. One request slot: the newest wins and cancels what is under way.
class Evaluation : public QObject {
    Q_OBJECT

  public:
    Evaluation(Document& document, QObject* parent);
    ~Evaluation() override;

    std::shared_ptr<const Evaluated> latest() const { return latest_; }
    /// The result of one swarm in the latest evaluation; null if there is none.
    std::shared_ptr<const gswarm::Result> resultOf(gswarm::ObjectId swarm) const;
    gswarm::Evaluator& evaluator() { return evaluator_; }
    /// Also compute the weights of one card for every instance; none to stop that.
    void showWeightsOf(gswarm::ObjectId railEntry);
    void request();
    bool busy() const;
    /// Gives up what is being made; the last results stay until something changes.
    void cancel();
    /// How many shown instances of a swarm overlap; counted at rest. −1 while it is not known.
    int overlapsOf(gswarm::ObjectId swarm) const;
    /// Reads the ledger of a swarm after every evaluation, when there is nothing else to do; none to stop that.
    void showLedger(gswarm::ObjectId swarm, const gswarm::LedgerQuery& query);
    void hideLedger();
    /// Asks how many instances a formation would have as each kind; nothing of it is made. Answers come one by one as
    /// `counted`, worked out when there is nothing else to do; a new question replaces one that waits.
    void askCounts(gswarm::ObjectId formation, int question);
    /// When a card of the shown rail acts, over the whole project; worked out at rest where a card is silent at this frame. Null
    /// while it is not known.
    const gswarm::ActingFrames* actingOf(gswarm::ObjectId railEntry) const;

    /// The check of the loop of the scene as it is now; null while it is not known. Made at rest, once it is asked for.
    std::shared_ptr<const gswarm::LoopCheck> loop() const { return loop_; }
    void watchLoop();
    /// Which frames of the project have their follow-through at hand; empty where nothing of the shown rail remembers.
    const std::vector<bool>& readyFrames() const { return readyFrames_; }
    /// How much memory follow-through may take before it goes to disk, megabytes; a preference of the person.
    int memoryLimit() const;
    /// Megabytes for pictures, clips and shapes.
    int pictureLimit() const;
    void limitPictures(int megabytes);
    void limitMemory(int megabytes);

  signals:
    void ready();
    void loopChecked();
    void framesReady();
    /// Long work goes on: what is made and how far it is (0 … 1). Empty once it is over.
    void working(const QString& what, double fraction);
    void overlapsKnown();
    void ledgerRead(const std::shared_ptr<const gswarm::Ledger>& ledger);
    /// Why the filter of the ledger can't be understood, and where (a byte of its text, or −1); the list stays as it was.
    void ledgerRefused(const QString& sentence, int place);
    /// What a kind of formation would make, for people, and whether that is more than may be.
    void counted(int question, const QString& kind, const QString& text, bool tooMany);
    void actingKnown();
    void trouble(const QString& sentence);

  private:
    struct Request {
        gswarm::Scene scene;
        double frame;
        gswarm::PlanOptions options;
        gswarm::ObjectId weightsOf;
        gswarm::ObjectId swarm;  ///< the one whose rail is shown
        std::optional<std::uint64_t> tallied;
        Session::Ghosts ghosts;
        std::optional<Session::Variations> variations;
        std::filesystem::path bake;               ///< where baked frames may lie
        std::vector<gswarm::ObjectId> contoured;  ///< zones and forces whose lines are shown and have to be found
    };
    std::vector<gswarm::ObjectId> contouredNow() const;
    void run();
    std::function<void()> nextWork();
    bool givesWay() const;
    void answer(const Request& request, gswarm::Progress& progress);
    Request presentRequest() const;
    void addExtras(const Request& request, gswarm::Progress& progress, Evaluated& out);
    std::shared_ptr<Evaluated> work(const Request& request, gswarm::Progress& progress);
    void deliver(std::shared_ptr<const Evaluated> evaluated, const QString& sentence);
    void post(Rest kind, RestJobs::Work work);
    struct LedgerRequest {
        gswarm::ObjectId swarm;
        gswarm::LedgerQuery query;
    };
    void postLedger();
    void postLoop();
    // Work at rest: each is a job that returns whether it wants to go on.
    bool countOverlapsOf(const std::shared_ptr<const Evaluated>& evaluated, gswarm::Progress& progress);
    bool readLedgerOf(const LedgerRequest& request, const std::shared_ptr<const Evaluated>& evaluated, gswarm::Progress& progress);
    bool fillMemoryOf(const std::shared_ptr<const Evaluated>& evaluated, gswarm::Progress& progress);
    bool checkLoopOf(const std::shared_ptr<const Evaluated>& evaluated, gswarm::Progress& progress);
    bool findActingOf(const std::shared_ptr<const Evaluated>& evaluated, gswarm::ObjectId swarm, gswarm::Progress& progress);
    void postActing();
    void tellProgress();
    gswarm::ObjectId dearestOf(const Request& request, gswarm::ObjectId swarm, gswarm::Progress& progress);

    Document& document_;
    gswarm::Evaluator evaluator_;
    std::shared_ptr<const Evaluated> latest_;
    gswarm::ObjectId weightsOf_;
    std::vector<gswarm::ObjectId> contoured_;  ///< of the last request
    mutable std::mutex mutex_;
    std::condition_variable wake_;
    std::unique_ptr<Request> next_;
    std::shared_ptr<gswarm::Progress> current_;
    RestJobs resting_;
    std::optional<Rest> restUnderWay_;  ///< what the thread works on where that is no request
    std::shared_ptr<const gswarm::LoopCheck> loop_;
    std::vector<gswarm::ActingFrames> acting_;  ///< of the cards of one rail, for the scene and the solo of now
    std::vector<bool> readyFrames_;
    bool watchesLoop_ = false;
    std::optional<LedgerRequest> ledger_;
    std::map<gswarm::ObjectId, int> overlaps_;
    QTimer watch_;
    int watched_ = 0;  ///< ticks of the watch that the present work has taken
    bool stop_ = false;
    std::thread thread_;
};
