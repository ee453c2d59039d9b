#include "app/document/evaluation.h"

#include <algorithm>
#include <chrono>
#include <QCoreApplication>
#include <QMetaObject>
#include <QSettings>
#include <QStandardPaths>

#include "app/document/document.h"
#include "app/document/shown_zones.h"
#include "core/base/error.h"
#include "core/evaluate/acting_frame.h"
#include "core/evaluate/flow.h"
#include "core/evaluate/memory.h"
#include "core/evaluate/overlaps.h"
#include "core/exchange/export.h"
#include "core/formula/parse.h"
#include "core/scene/edit.h"

using namespace gswarm;

namespace {

constexpr int mostCounted = 200'000;  // instances whose overlaps are counted

}  // namespace

Evaluation::Evaluation(Document& document, QObject* parent) : QObject(parent), document_(document) {
    for (const auto signal : {&Document::sceneChanged, &Document::frameChanged, &Document::sessionChanged})
        connect(&document_, signal, this, &Evaluation::request);
    for (const auto signal : {&Session::viewChanged, &Session::tallyChanged})
        connect(&document_.session(), signal, this, &Evaluation::request);
    const auto contoursChanged = [this] {
        if (contouredNow() != contoured_) request();
    };
    connect(&document_, &Document::chosenChanged, this, contoursChanged);
    connect(&document_.session(), &Session::pinsChanged, this, contoursChanged);
    limitMemory(memoryLimit());
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
    return next_ || (current_ && !atRest_) || (ledger_ && unlisted_) || listing_;
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

std::vector<ObjectId> Evaluation::contouredNow() const {
    std::vector<ObjectId> zones = shownZones(document_);
    std::erase_if(zones, [this](ObjectId zone) { return !hasContours(document_.scene().at(zone)); });
    return zones;
}

Evaluation::Request Evaluation::presentRequest() const {
    const Session& session = document_.session();
    PlanOptions options{document_.solo(), document_.folder()};
    options.rehearsal = session.rehearsal();
    Request request{session.comparing() ? session.kept() : document_.scene(),
                    document_.frame(),
                    options,
                    weightsOf_,
                    document_.swarm(),
                    {},
                    {},
                    {},
                    {}};
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
        if (current_ && (atRest_ || (latest_ && !(latest_->scene == wanted.scene)))) current_->cancel();
        next_ = std::make_unique<Request>(std::move(wanted));
    }
    wake_.notify_one();
}

void Evaluation::showLedger(ObjectId swarm, const LedgerQuery& query) {
    {
        const std::lock_guard lock(mutex_);
        ledger_ = LedgerRequest{swarm, query};
        unlisted_ = latest_;
        if (current_ && atRest_) current_->cancel();
    }
    wake_.notify_one();
}

void Evaluation::hideLedger() {
    const std::lock_guard lock(mutex_);
    ledger_.reset();
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
        const Plan plan = prepare(request.scene, request.swarm, request.frame, request.options, evaluator_.store(), progress);
        if (!rowsOfIds(plan.home, {*request.tallied}).empty()) {
            out.tally = tally(plan, request.scene, *request.tallied);
            out.tallySwarm = request.swarm;
        }
    }
    for (const auto& result : out.swarms)
        if (result->swarm == request.swarm)
            for (const ObjectId zone : request.contoured)
                out.contours.push_back(contoursOf(request.scene, zone, *result, request.options, evaluator_.store(), progress));
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
    const Plan plan = prepare(request.scene, swarm, request.frame, request.options, evaluator_.store(), progress);
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

void Evaluation::run() {
    for (;;) {
        std::unique_ptr<Request> request;
        std::shared_ptr<Progress> progress;
        {
            std::unique_lock lock(mutex_);
            current_.reset();
            wake_.wait(lock,
                       [this] { return stop_ || next_ || question_ || (unlisted_ && ledger_) || uncounted_ || unfilled_ || unchecked_; });
            if (stop_) return;
            progress = current_ = std::make_shared<Progress>();
            request = std::move(next_);
            if (!request && question_) {
                const Question question = std::exchange(question_, nullptr);
                lock.unlock();
                question(*progress);
                continue;
            }
            if (!request && unlisted_ && ledger_) {
                const auto unlisted = std::exchange(unlisted_, nullptr);
                const LedgerRequest wanted = *ledger_;
                lock.unlock();
                readLedgerAtRest(wanted, unlisted);
                continue;
            }
            if (!request && !uncounted_ && unchecked_) {
                const auto unchecked = std::exchange(unchecked_, nullptr);
                lock.unlock();
                checkLoopAtRest(unchecked);
                continue;
            }
            if (!request && !uncounted_) {
                const auto unfilled = std::exchange(unfilled_, nullptr);
                lock.unlock();
                fillMemoryAtRest(unfilled);
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

void Evaluation::ask(Question question) {
    {
        const std::lock_guard lock(mutex_);
        question_ = std::move(question);
    }
    wake_.notify_one();
}

void Evaluation::askCounts(ObjectId formation, int question) {
    const PlanOptions options{{}, document_.folder()};
    ask([this, formation, question, options, scene = document_.scene(), frame = document_.frame()](Progress& progress) {
        for (const Kind* kind : kindsOf(Family::formation)) {
            QString text;
            bool tooMany = false;
            try {
                const bool now = kind == scene.at(formation).part("formation").kind;
                const Scene changed = now ? scene : setFormation(scene, formation, *kind).scene;
                const ObjectId swarm = changed.ownerOf(formation);
                const CountTold told = countOf(changed, swarm, changed.at(formation), frame, options, evaluator_.store(), progress);
                tooMany = told.count > mostInstances;
                text = QString("%1%2%3").arg(told.guess ? "about " : "", QString::fromStdString(grouped(told.count)),
                                             tooMany ? ": too many" : "");
            } catch (const Cancelled&) {
                return;
            } catch (const Error& error) {
                text = error.what();
            }
            emit counted(question, QString::fromStdString(kind->id), text, tooMany);
        }
    });
}

void Evaluation::askActingFrame(ObjectId railEntry) {
    Request about = presentRequest();
    ask([this, railEntry, about](Progress& progress) {
        std::optional<double> frame;
        try {
            frame = nearestActingFrame(about.scene, about.swarm, railEntry, about.frame, about.options, evaluator_, progress);
        } catch (const Cancelled&) {
        } catch (const Error&) {  // a swarm that can't be made at some frame: nothing to go to
        }
        emit actsAt(railEntry, frame);
    });
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
    atRest_ = true;
    try {
        for (const auto& result : evaluated->swarms)
            if (result->visible <= mostCounted) counted[result->swarm] = countOverlaps(*result, *current_);
    } catch (const Cancelled&) {
        atRest_ = false;
        return;
    }
    atRest_ = false;
    const auto tell = [this, counted, evaluated] {
        if (latest_ != evaluated) return;
        overlaps_ = counted;
        emit overlapsKnown();
    };
    QMetaObject::invokeMethod(this, tell, Qt::QueuedConnection);
}

int Evaluation::memoryLimit() const { return QSettings().value("followThroughMegabytes", 512).toInt(); }

void Evaluation::limitMemory(int megabytes) {
    QSettings().setValue("followThroughMegabytes", megabytes);
    const QString folder = QStandardPaths::writableLocation(QStandardPaths::CacheLocation) + "/follow-through-" +
                           QString::number(QCoreApplication::applicationPid());
    evaluator_.store().checkpoints().limit(static_cast<std::size_t>(std::max(megabytes, 1)) << 20, folder.toStdString());
}

void Evaluation::watchLoop() {
    {
        const std::lock_guard lock(mutex_);
        if (watchesLoop_) return;
        watchesLoop_ = true;
        unchecked_ = latest_;
    }
    wake_.notify_one();
}

/// One frame after the other, so that any request comes between.
void Evaluation::fillMemoryAtRest(const std::shared_ptr<const Evaluated>& evaluated) {
    const Scene& scene = evaluated->scene;
    const FrameRange range = framesOf(scene);
    bool more = false;
    std::vector<bool> ready;
    atRest_ = true;
    try {
        for (const ObjectId swarm : scene.all(ObjectType::swarm)) {
            if (evaluated->problems.contains(swarm) || lastCardThatRemembers(scene, swarm) < 0) continue;
            const auto frames = [&] { return knownFrames(scene, swarm, range.first, range.last, evaluated->options, evaluator_.store()); };
            const auto before = frames();
            makeNextFrame(scene, swarm, range.first, range.last, evaluated->options, evaluator_.store(), *current_);
            const auto known = frames();
            // Where nothing more can be kept, neither in memory nor on disk, it stops.
            more = more || std::count(known.begin(), known.end(), true) > std::count(before.begin(), before.end(), true);
            if (ready.empty()) ready = known;
            for (std::size_t i = 0; i < ready.size(); ++i) ready[i] = ready[i] && known[i];
        }
    } catch (const Cancelled&) {
        more = true;
    } catch (const Error&) {
        // The swarm says itself what is wrong with it.
    }
    atRest_ = false;
    {
        const std::lock_guard lock(mutex_);
        if (more && !next_ && !unfilled_) unfilled_ = evaluated;
    }
    QMetaObject::invokeMethod(
        this,
        [this, ready] {
            if (readyFrames_ == ready) return;
            readyFrames_ = ready;
            emit framesReady();
        },
        Qt::QueuedConnection);
}

void Evaluation::checkLoopAtRest(const std::shared_ptr<const Evaluated>& evaluated) {
    atRest_ = true;
    std::shared_ptr<const LoopCheck> check;
    try {
        check = std::make_shared<const LoopCheck>(checkLoop(evaluated->scene, evaluated->options, evaluator_, *current_));
    } catch (const Cancelled&) {
        const std::lock_guard lock(mutex_);
        if (!next_ && !unchecked_) unchecked_ = evaluated;
    } catch (const Error&) {
        // The swarm says itself what is wrong with it.
    }
    atRest_ = false;
    if (!check) return;
    const auto tell = [this, check, evaluated] {
        if (!latest_ || !(latest_->scene == evaluated->scene)) return;
        loop_ = check;
        emit loopChecked();
    };
    QMetaObject::invokeMethod(this, tell, Qt::QueuedConnection);
}

void Evaluation::readLedgerAtRest(const LedgerRequest& request, const std::shared_ptr<const Evaluated>& evaluated) {
    atRest_ = listing_ = true;
    try {
        if (evaluated->scene.find(request.swarm) && !evaluated->problems.contains(request.swarm)) {
            const Plan plan = prepare(evaluated->scene, request.swarm, evaluated->frame, evaluated->options, evaluator_.store(), *current_);
            emit ledgerRead(readLedger(evaluator_, plan, evaluated->scene, request.query, *current_));
        }
    } catch (const Cancelled&) {
        const std::lock_guard lock(mutex_);
        if (!next_ && !unlisted_) unlisted_ = evaluated;
    } catch (const FormulaError& error) {
        emit ledgerRefused(error.what(), static_cast<int>(error.place));
    } catch (const Error& error) {
        emit ledgerRefused(error.what(), -1);
    }
    atRest_ = listing_ = false;
}

void Evaluation::tellProgress() {
    QString what;
    double fraction = 0;
    {
        const std::lock_guard lock(mutex_);
        if (current_ && !atRest_) {
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
    latest_ = known;
    overlaps_.clear();
    if (changed) loop_.reset();
    {
        const std::lock_guard lock(mutex_);
        uncounted_ = unlisted_ = unfilled_ = known;
        if (watchesLoop_ && !loop_) unchecked_ = known;
    }
    if (changed) emit loopChecked();
    wake_.notify_one();
    for (const auto& [swarm, problem] : known->problems) emit trouble(problem);
    emit ready();
}
