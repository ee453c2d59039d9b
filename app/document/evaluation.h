#pragma once
#include <atomic>
#include <condition_variable>
#include <map>
#include <memory>
#include <mutex>
#include <QObject>
#include <QTimer>
#include <thread>

#include "core/evaluate/evaluator.h"

/// What the panels and the picture show of one frame.
struct Evaluated {
    std::vector<std::shared_ptr<const gswarm::Result>> swarms;
    gswarm::Scene scene;
    double frame = 0;
    gswarm::ObjectId weightsOf;  ///< the rail entry whose weights are below, or none
    std::vector<float> weights;  ///< one an instance of its swarm
    double milliseconds = 0;
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
    /// Asks how many instances a formation would have as each kind; nothing of it is made. Answers come one by one as
    /// `counted`, worked out when there is nothing else to do; a new question replaces one that waits.
    void askCounts(gswarm::ObjectId formation, int question);

  signals:
    void ready();
    /// Long work goes on: what is made and how far it is (0 … 1). Empty once it is over.
    void working(const QString& what, double fraction);
    void overlapsKnown();
    /// What a kind of formation would make, for people, and whether that is more than may be.
    void counted(int question, const QString& kind, const QString& text, bool tooMany);
    void trouble(const QString& sentence);

  private:
    struct Request {
        gswarm::Scene scene;
        double frame;
        gswarm::PlanOptions options;
        gswarm::ObjectId weightsOf;
    };
    void run();
    std::shared_ptr<Evaluated> work(const Request& request, gswarm::Progress& progress);
    void deliver(std::shared_ptr<const Evaluated> evaluated, const QString& sentence);
    struct Question {
        Request about;
        gswarm::ObjectId formation;
        int number;
    };
    void answer(const Question& question, gswarm::Progress& progress);
    void countOverlapsAtRest(const std::shared_ptr<const Evaluated>& evaluated);
    void tellProgress();

    Document& document_;
    gswarm::Evaluator evaluator_;
    std::shared_ptr<const Evaluated> latest_;
    gswarm::ObjectId weightsOf_;
    mutable std::mutex mutex_;
    std::condition_variable wake_;
    std::unique_ptr<Request> next_;
    std::shared_ptr<gswarm::Progress> current_;
    std::unique_ptr<Question> question_;
    std::shared_ptr<const Evaluated> uncounted_;  ///< delivered, overlaps not counted yet
    std::map<gswarm::ObjectId, int> overlaps_;
    std::atomic<bool> countingOverlaps_{false};
    QTimer watch_;
    int watched_ = 0;  ///< ticks of the watch that the present work has taken
    bool stop_ = false;
    std::thread thread_;
};
