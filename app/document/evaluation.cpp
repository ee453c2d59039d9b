#include "app/document/evaluation.h"

#include <algorithm>
#include <chrono>
#include <QCoreApplication>
#include <QMetaObject>
#include <QSettings>
#include <QStandardPaths>

#include "app/document/application.h"
#include "app/document/document.h"
#include "app/document/shown_zones.h"
#include "core/base/error.h"
#include "core/flow/flow.h"
#include "core/flow/home_plan.h"
#include "core/memory/memory.h"
#include "core/prepare/prepare.h"

using namespace gswarm;

Evaluation::Evaluation(Document& document, QObject* parent) : QObject(parent), document_(document) {
    for (const auto signal : {&Document::sceneChanged, &Document::frameChanged, &Document::sessionChanged})
        connect(&document_, signal, this, &Evaluation::request);
    for (const auto signal : {&Session::viewChanged, &Session::tallyChanged})
        connect(&document_.session(), signal, this, &Evaluation::request);
    const auto contoursChanged = [this] {
        if (contouredNow() != contoured_) request();
    };
    connect(&document_, &Document::chosenChanged, this, contoursChanged);
    connect(&document_, &Document::chosenChanged, this, [this] {
        const Object* swarm = document_.scene().find(document_.swarm());
        if (!acting_.empty() && swarm && (swarm->list("rail").empty() || swarm->list("rail").front() != acting_.front().entry))
            acting_.clear();
        postActing();
    });
    for (const auto signal : {&Session::pinsChanged, &Session::instancesChanged})
        connect(&document_.session(), signal, this, contoursChanged);
    limitMemory(memoryLimit());
    limitPictures(pictureLimit());
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
    return next_ || (current_ && (!givesWay() || restUnderWay_ == Rest::ledger)) || resting_.waits(Rest::ledger);
}

/// Whether the work under way gives way to any request: all work at rest does but answers to questions.
bool Evaluation::givesWay() const { return restUnderWay_ && *restUnderWay_ != Rest::question; }

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

std::vector<ObjectId> Evaluation::contouredNow() const {
    std::vector<ObjectId> zones = shownZones(document_);
    std::erase_if(zones, [this](ObjectId zone) {
        const Object* object = document_.scene().find(zone);
        return !object || !hasContours(*object);
    });
    for (const ObjectId force : shownForces(document_)) zones.push_back(force);
    // The solids of chosen instances are shown with the card by which they meet others.
    if (feelsForces(document_.scene(), document_.chosen()) && !document_.session().instances().ids.empty())
        zones.push_back(document_.chosen());
    return zones;
}

Evaluation::Request Evaluation::presentRequest() const {
    const Session& session = document_.session();
    PlanOptions options{document_.solo(), document_.folder()};
    options.rehearsal = session.rehearsal();
    options.light = session.light();
    Request request{session.comparing() ? session.kept() : document_.scene(),
                    document_.frame(),
                    options,
                    weightsOf_,
                    document_.swarm(),
                    {},
                    {},
                    {},
                    {},
                    {}};
    request.bake = bakeBeside(document_.path());
    if (session.comparing()) return request;
    request.contoured = contouredNow();
    if (session.instances().swarm == request.swarm) request.tallied = session.tallied();
    request.ghosts = session.ghosts();
    request.variations = session.variations();
    return request;
}

void Evaluation::request() {
    Request wanted = presentRequest();
    contoured_ = wanted.contoured;
    {
        const std::lock_guard lock(mutex_);
        // Moving on in time lets the evaluation under way finish, so that playing always shows pictures.
        if (current_ && (givesWay() || (latest_ && !(latest_->scene == wanted.scene)))) current_->cancel();
        next_ = std::make_unique<Request>(std::move(wanted));
    }
    wake_.notify_one();
}

void Evaluation::showLedger(ObjectId swarm, const LedgerQuery& query) {
    ledger_ = LedgerRequest{swarm, query};
    {
        const std::lock_guard lock(mutex_);
        if (current_ && givesWay()) current_->cancel();
    }
    postLedger();
}

void Evaluation::hideLedger() {
    ledger_.reset();
    const std::lock_guard lock(mutex_);
    resting_.drop(Rest::ledger);
}

namespace {

/// Frames before and after, those nearest in time last, so that they are drawn over the others.
std::vector<Ghost> ghostFrames(const Session::Ghosts& ghosts, double frame) {
    std::vector<Ghost> out;
    if (!ghosts.on) return out;
    for (int k = std::max(ghosts.before, ghosts.after); k > 0; --k) {
        const float strength = 1.0f / static_cast<float>(k);
        if (k <= ghosts.before) out.push_back({frame - k * ghosts.step, strength, nullptr});
        if (k <= ghosts.after) out.push_back({frame + k * ghosts.step, strength, nullptr});
    }
    return out;
}

}  // namespace

/// Tally, contours, ghosts and variations of the swarm whose rail is shown.
void Evaluation::addExtras(const Request& request, Progress& progress, Evaluated& out) {
    const auto evaluate = [&](const Scene& scene, double frame) {
        return evaluator_.evaluate(scene, request.swarm, frame, request.options, progress);
    };
    if (request.tallied) {
        const Plan plan = evaluator_.plan(request.scene, request.swarm, request.frame, request.options, progress);
        if (!rowsOfIds(plan.home, {*request.tallied}).empty()) {
            out.tally = tally(plan, request.scene, *request.tallied);
            out.tallySwarm = request.swarm;
        }
    }
    for (const auto& result : out.swarms) {
        if (result->swarm != request.swarm) continue;
        for (const ObjectId shown : request.contoured) {
            if (shown.type() == ObjectType::gesture)
                out.colliders = colliderLines(request.scene.at(shown), *result, evaluator_.store());
            else if (shown.type() == ObjectType::force)
                out.forces.push_back(forceLinesOf(request.scene, shown, *result, request.options, evaluator_.store(), progress));
            else
                out.contours.push_back(contoursOf(request.scene, shown, *result, request.options, evaluator_.store(), progress));
        }
    }
    out.ghosts = ghostFrames(request.ghosts, request.frame);
    for (Ghost& ghost : out.ghosts) ghost.swarm = evaluate(request.scene, ghost.frame);
    if (!request.variations) return;
    const Address& number = request.variations->number;
    for (const double value : valuesOf(parameterAt(request.scene, number), request.variations->range)) {
        auto varied = std::make_shared<Evaluated>();
        varied->scene = setNumber(request.scene, number, value, request.frame).scene;
        varied->frame = request.frame;
        for (const auto& result : out.swarms)
            varied->swarms.push_back(result->swarm == request.swarm ? evaluate(varied->scene, request.frame) : result);
        out.variations.push_back({value, varied});
    }
}

namespace {

/// Which gesture of a rail takes longest: one block is timed card by card. Where none does, the swarm itself.
ObjectId dearestCard(const Plan& plan) {
    using Clock = std::chrono::steady_clock;
    auto space = std::make_unique<FlowSpace>();
    runBlock(plan, 0, *space);  // what is made on first use is there
    Clock::time_point before = Clock::now();
    Clock::duration longest{};
    ObjectId dearest = plan.swarm;
    const AfterCard time = [&](int card, const Block&) {
        const Clock::time_point now = Clock::now();
        if (card >= 0 && now - before > longest) {
            longest = now - before;
            dearest = plan.cards[static_cast<std::size_t>(card)].gesture;
        }
        before = Clock::now();
    };
    runBlock(plan, 0, *space, &time);
    return dearest;
}

}  // namespace

ObjectId Evaluation::dearestOf(const Request& request, ObjectId swarm, Progress& progress) {
    const auto begun = std::chrono::steady_clock::now();
    const Plan plan = evaluator_.plan(request.scene, swarm, request.frame, request.options, progress);
    const double preparing = std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count();
    // What is prepared at every frame, such as another swarm's instances, belongs to no single card.
    return plan.blocks() == 0 || preparing > 0.5 / momentAt(request.scene, 0).rate ? swarm : dearestCard(plan);
}

std::shared_ptr<Evaluated> Evaluation::work(const Request& request, Progress& progress) {
    const auto start = std::chrono::steady_clock::now();
    auto out = std::make_shared<Evaluated>();
    out->scene = request.scene;
    out->frame = request.frame;
    out->options = request.options;
    double longest = -1;
    for (const ObjectId swarm : request.scene.all(ObjectType::swarm)) {
        const auto begun = std::chrono::steady_clock::now();
        try {
            PlanOptions options = request.options;
            if (request.weightsOf && request.scene.find(request.weightsOf) && request.scene.ownerOf(request.weightsOf) == swarm)
                options.wanted.weightsOf = request.weightsOf;
            const auto result = evaluator_.evaluate(request.scene, swarm, request.frame, options, progress);
            out->swarms.push_back(result);
            if (!result->weights.empty()) out->weightsOf = request.weightsOf, out->weighed = swarm, out->weights = result->weights;
        } catch (const Error& error) {
            out->problems[swarm] = error.what();
        }
        const double took = std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count();
        if (took <= longest) continue;
        longest = took;
        out->dearest = swarm;
        if (took > 1 / momentAt(request.scene, 0).rate && !out->problems.contains(swarm))
            out->dearest = dearestOf(request, swarm, progress);
    }
    if (request.swarm && !out->problems.contains(request.swarm)) addExtras(request, progress, *out);
    out->milliseconds = std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count();
    return out;
}

/// What is to be done next: the newest request, or else one thing of what waits, the nearest to the person first. Empty when
/// the thread is to end.
std::function<void()> Evaluation::nextWork() {
    std::unique_lock lock(mutex_);
    current_.reset();
    restUnderWay_.reset();
    wake_.wait(lock, [this] { return stop_ || next_ || !resting_.empty(); });
    if (stop_) return {};
    current_ = std::make_shared<Progress>();
    if (next_) return [this, request = std::shared_ptr<Request>(std::move(next_)), progress = current_] { answer(*request, *progress); };
    const RestJobs::Job job = *resting_.take();
    restUnderWay_ = job.kind;
    return [this, job, progress = current_] {
        if (!job.work(*progress)) return;
        const std::lock_guard again(mutex_);
        resting_.putBack(job);
    };
}

void Evaluation::run() {
    while (const auto work = nextWork()) guarded("the evaluation", work);
}

void Evaluation::answer(const Request& request, Progress& progress) {
    QString sentence;
    std::shared_ptr<const Evaluated> evaluated;
    try {
        sentence = QString::fromStdString(evaluator_.store().checkpoints().follow(request.bake));
        evaluated = work(request, progress);
    } catch (const Cancelled&) {
        const std::lock_guard lock(mutex_);
        if (next_) return;
        sentence = "Stopped. The view still shows what was there before; change a setting, or undo.";
    } catch (const Error& error) {
        sentence = error.what();
    } catch (const std::bad_alloc&) {
        sentence = "There is not enough memory for this many instances; lower the counts.";
    }
    QMetaObject::invokeMethod(
        this, [this, evaluated, sentence] { deliver(evaluated, sentence); }, Qt::QueuedConnection);
}

void Evaluation::cancel() {
    const std::lock_guard lock(mutex_);
    if (current_) current_->cancel();
}

int Evaluation::memoryLimit() const { return QSettings().value("followThroughMegabytes", 512).toInt(); }
void Evaluation::limitMemory(int megabytes) {
    QSettings().setValue("followThroughMegabytes", megabytes);
    const QString folder = QStandardPaths::writableLocation(QStandardPaths::CacheLocation) + "/follow-through-" +
                           QString::number(QCoreApplication::applicationPid());
    evaluator_.store().checkpoints().limit(static_cast<std::size_t>(std::max(megabytes, 1)) << 20, folder.toStdString());
}

int Evaluation::pictureLimit() const { return QSettings().value("pictureMegabytes", 2048).toInt(); }
void Evaluation::limitPictures(int megabytes) {
    QSettings().setValue("pictureMegabytes", megabytes);
    const std::size_t bytes = static_cast<std::size_t>(std::max(megabytes, 1)) << 20;
    evaluator_.store().limit(bytes);
    document_.store().limitPictures(bytes);
}

void Evaluation::tellProgress() {
    QString what;
    double fraction = 0;
    {
        const std::lock_guard lock(mutex_);
        if (current_ && !givesWay()) {
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
    const bool changed = !latest_ || !(latest_->scene == known->scene);
    const bool otherSolo = latest_ && latest_->options.solo != known->options.solo;
    latest_ = known;
    overlaps_.clear();
    if (changed) loop_.reset();
    if (changed || otherSolo) acting_.clear();
    postActing();
    post(Rest::overlaps, [this, known](Progress& progress) { return countOverlapsOf(known, progress); });
    post(Rest::memory, [this, known](Progress& progress) { return fillMemoryOf(known, progress); });
    postLedger();
    postLoop();
    if (changed) emit loopChecked();
    for (const auto& [swarm, problem] : known->problems) emit trouble(problem);
    emit ready();
}
