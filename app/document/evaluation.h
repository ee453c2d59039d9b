#pragma once
#include <condition_variable>
#include <map>
#include <memory>
#include <mutex>
#include <QObject>
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

  signals:
    void ready();
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
    Q_INVOKABLE void deliver(std::shared_ptr<const Evaluated> evaluated, const QString& sentence);

    Document& document_;
    gswarm::Evaluator evaluator_;
    std::shared_ptr<const Evaluated> latest_;
    gswarm::ObjectId weightsOf_;
    mutable std::mutex mutex_;
    std::condition_variable wake_;
    std::unique_ptr<Request> next_;
    std::shared_ptr<gswarm::Progress> current_;
    bool stop_ = false;
    std::thread thread_;
};
