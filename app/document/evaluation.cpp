#include "app/document/evaluation.h"

#include <chrono>
#include <QMetaObject>

#include "app/document/document.h"
#include "core/base/error.h"

using namespace gswarm;

Evaluation::Evaluation(Document& document, QObject* parent) : QObject(parent), document_(document) {
    for (const auto signal : {&Document::sceneChanged, &Document::frameChanged, &Document::sessionChanged})
        connect(&document_, signal, this, &Evaluation::request);
    thread_ = std::thread([this] { run(); });
    request();
}

Evaluation::~Evaluation() {
    {
        const std::lock_guard lock(mutex_);
        stop_ = true;
        if (current_) current_->cancel();
    }
    wake_.notify_one();
    thread_.join();
}

bool Evaluation::busy() const {
    const std::lock_guard lock(mutex_);
    return next_ || current_;
}

std::shared_ptr<const Result> Evaluation::resultOf(ObjectId swarm) const {
    if (latest_)
        for (const auto& result : latest_->swarms)
            if (result->swarm == swarm) return result;
    return nullptr;
}

void Evaluation::showWeightsOf(ObjectId railEntry) {
    if (weightsOf_ == railEntry) return;
    weightsOf_ = railEntry;
    request();
}

void Evaluation::request() {
    const PlanOptions options{document_.solo(), {document_.folder()}};
    {
        const std::lock_guard lock(mutex_);
        next_ = std::make_unique<Request>(Request{document_.scene(), document_.frame(), options, weightsOf_});
        // Moving on in time lets the evaluation under way finish, so that playing always shows pictures.
        if (current_ && latest_ && !(latest_->scene == document_.scene())) current_->cancel();
    }
    wake_.notify_one();
}

std::shared_ptr<Evaluated> Evaluation::work(const Request& request, Progress& progress) {
    const auto start = std::chrono::steady_clock::now();
    auto out = std::make_shared<Evaluated>();
    out->scene = request.scene;
    out->frame = request.frame;
    for (const ObjectId swarm : request.scene.all(ObjectType::swarm)) {
        const Plan plan = prepare(request.scene, swarm, request.frame, request.options, evaluator_.store(), progress);
        out->swarms.push_back(evaluator_.run(plan, progress));
        for (std::size_t c = 0; c < plan.cards.size(); ++c)
            if (plan.cards[c].entry == request.weightsOf) {
                out->weightsOf = request.weightsOf;
                out->weights = evaluator_.weights(plan, static_cast<int>(c), progress);
            }
    }
    out->milliseconds = std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count();
    return out;
}

void Evaluation::run() {
    for (;;) {
        std::unique_ptr<Request> request;
        std::shared_ptr<Progress> progress;
        {
            std::unique_lock lock(mutex_);
            current_.reset();
            wake_.wait(lock, [this] { return stop_ || next_; });
            if (stop_) return;
            request = std::move(next_);
            progress = current_ = std::make_shared<Progress>();
        }
        QString sentence;
        std::shared_ptr<const Evaluated> evaluated;
        try {
            evaluated = work(*request, *progress);
        } catch (const Cancelled&) {
            continue;
        } catch (const Error& error) {
            sentence = error.what();
        } catch (const std::bad_alloc&) {
            sentence = "There is not enough memory for this many instances; lower the counts.";
        }
        QMetaObject::invokeMethod(
            this, [this, evaluated, sentence] { deliver(evaluated, sentence); }, Qt::QueuedConnection);
    }
}

void Evaluation::deliver(std::shared_ptr<const Evaluated> evaluated, const QString& sentence) {
    emit trouble(sentence);
    if (!evaluated) return;
    latest_ = std::move(evaluated);
    emit ready();
}
