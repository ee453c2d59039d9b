#include "app/document/evaluation.h"

#include <chrono>
#include <QMetaObject>

#include "app/document/document.h"
#include "core/base/error.h"
#include "core/evaluate/overlaps.h"
#include "core/scene/edit.h"

using namespace gswarm;

namespace {

constexpr int mostCounted = 200'000;  // instances whose overlaps are counted

}  // namespace

Evaluation::Evaluation(Document& document, QObject* parent) : QObject(parent), document_(document) {
    for (const auto signal : {&Document::sceneChanged, &Document::frameChanged, &Document::sessionChanged})
        connect(&document_, signal, this, &Evaluation::request);
    watch_.setInterval(100);
    connect(&watch_, &QTimer::timeout, this, &Evaluation::tellProgress);
    watch_.start();
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
    return next_ || (current_ && !countingOverlaps_);
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
    const PlanOptions options{document_.solo(), document_.folder()};
    {
        const std::lock_guard lock(mutex_);
        next_ = std::make_unique<Request>(Request{document_.scene(), document_.frame(), options, weightsOf_});
        // Moving on in time lets the evaluation under way finish, so that playing always shows pictures.
        if (current_ && (countingOverlaps_ || (latest_ && !(latest_->scene == document_.scene())))) current_->cancel();
    }
    wake_.notify_one();
}

std::shared_ptr<Evaluated> Evaluation::work(const Request& request, Progress& progress) {
    const auto start = std::chrono::steady_clock::now();
    auto out = std::make_shared<Evaluated>();
    out->scene = request.scene;
    out->frame = request.frame;
    for (const ObjectId swarm : request.scene.all(ObjectType::swarm)) {
        try {
            const Plan plan = prepare(request.scene, swarm, request.frame, request.options, evaluator_.store(), progress);
            out->swarms.push_back(evaluator_.run(plan, progress));
            for (std::size_t c = 0; c < plan.cards.size(); ++c)
                if (plan.cards[c].entry == request.weightsOf) {
                    out->weightsOf = request.weightsOf;
                    out->weights = evaluator_.weights(plan, static_cast<int>(c), progress);
                }
        } catch (const Error& error) {
            out->problems[swarm] = error.what();
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
            wake_.wait(lock, [this] { return stop_ || next_ || question_ || uncounted_; });
            if (stop_) return;
            progress = current_ = std::make_shared<Progress>();
            request = std::move(next_);
            if (!request && question_) {
                const auto question = std::move(question_);
                lock.unlock();
                answer(*question, *progress);
                continue;
            }
            if (!request) {
                const auto uncounted = std::exchange(uncounted_, nullptr);
                lock.unlock();
                countOverlapsAtRest(uncounted);
                continue;
            }
        }
        QString sentence;
        std::shared_ptr<const Evaluated> evaluated;
        try {
            evaluated = work(*request, *progress);
        } catch (const Cancelled&) {
            const bool superseded = [this] {
                const std::lock_guard lock(mutex_);
                return static_cast<bool>(next_);
            }();
            if (!superseded) sentence = "Stopped. The picture still shows what was there before; change a number, or undo.";
            if (superseded) continue;
        } catch (const Error& error) {
            sentence = error.what();
        } catch (const std::bad_alloc&) {
            sentence = "There is not enough memory for this many instances; lower the counts.";
        }
        QMetaObject::invokeMethod(
            this, [this, evaluated, sentence] { deliver(evaluated, sentence); }, Qt::QueuedConnection);
    }
}

void Evaluation::askCounts(ObjectId formation, int question) {
    {
        const std::lock_guard lock(mutex_);
        const PlanOptions options{{}, document_.folder()};
        question_ = std::make_unique<Question>(Question{{document_.scene(), document_.frame(), options, {}}, formation, question});
    }
    wake_.notify_one();
}

void Evaluation::answer(const Question& question, Progress& progress) {
    const auto& [scene, frame, options, weightsOf] = question.about;
    for (const Kind* kind : kindsOf(Family::formation)) {
        QString text;
        bool tooMany = false;
        try {
            const bool now = kind == scene.at(question.formation).part("formation").kind;
            const Scene changed = now ? scene : setFormation(scene, question.formation, *kind).scene;
            const ObjectId swarm = changed.ownerOf(question.formation);
            const CountTold told = countOf(changed, swarm, changed.at(question.formation), frame, options, evaluator_.store(), progress);
            tooMany = told.count > mostInstances;
            text =
                QString("%1%2%3").arg(told.guess ? "about " : "", QString::fromStdString(grouped(told.count)), tooMany ? ": too many" : "");
        } catch (const Cancelled&) {
            return;
        } catch (const Error& error) {
            text = error.what();
        }
        emit counted(question.number, QString::fromStdString(kind->id), text, tooMany);
    }
}

void Evaluation::cancel() {
    const std::lock_guard lock(mutex_);
    if (current_) current_->cancel();
}

int Evaluation::overlapsOf(ObjectId swarm) const {
    const auto found = overlaps_.find(swarm);
    return found == overlaps_.end() ? -1 : found->second;
}

void Evaluation::countOverlapsAtRest(const std::shared_ptr<const Evaluated>& evaluated) {
    std::map<ObjectId, int> counted;
    countingOverlaps_ = true;
    try {
        for (const auto& result : evaluated->swarms)
            if (result->visible <= mostCounted) counted[result->swarm] = countOverlaps(*result, *current_);
    } catch (const Cancelled&) {
        countingOverlaps_ = false;
        return;
    }
    countingOverlaps_ = false;
    const auto tell = [this, counted, evaluated] {
        if (latest_ != evaluated) return;
        overlaps_ = counted;
        emit overlapsKnown();
    };
    QMetaObject::invokeMethod(this, tell, Qt::QueuedConnection);
}

void Evaluation::tellProgress() {
    QString what;
    double fraction = 0;
    {
        const std::lock_guard lock(mutex_);
        if (current_ && !countingOverlaps_) {
            what = QString::fromStdString(current_->doing());
            fraction = current_->fraction();
        }
    }
    // What is over at once is not worth a word.
    watched_ = what.isEmpty() ? 0 : watched_ + 1;
    emit working(watched_ > 3 ? what : QString(), fraction);
}

void Evaluation::deliver(std::shared_ptr<const Evaluated> evaluated, const QString& sentence) {
    emit trouble(sentence);
    if (!evaluated) return;
    auto known = std::make_shared<Evaluated>(*evaluated);
    // A swarm that can't be made keeps what it last was.
    for (const auto& [swarm, problem] : evaluated->problems)
        if (const auto before = resultOf(swarm); before && evaluated->scene.find(swarm)) known->swarms.push_back(before);
    latest_ = known;
    overlaps_.clear();
    {
        const std::lock_guard lock(mutex_);
        uncounted_ = known;
    }
    wake_.notify_one();
    for (const auto& [swarm, problem] : known->problems) emit trouble(problem);
    emit ready();
}
