// What the evaluation works out when nothing else is wanted: answers to questions, overlaps, follow-through of all frames,
// the loop, the ledger.
#include <algorithm>

#include "app/document/document.h"
#include "app/document/evaluation.h"
#include "core/base/error.h"
#include "core/base/text.h"
#include "core/edit/edit.h"
#include "core/explain/acting_frame.h"
#include "core/formula/parse.h"
#include "core/kinds/registry.h"
#include "core/memory/memory.h"
#include "core/prepare/homes.h"
#include "core/prepare/prepare.h"
#include "core/read/overlaps.h"
#include "core/scene/frame_range.h"

using namespace gswarm;

namespace {

constexpr int mostCounted = 200'000;  // instances whose overlaps are counted

}  // namespace

void Evaluation::post(Rest kind, RestJobs::Work work) {
    {
        const std::lock_guard lock(mutex_);
        resting_.post(kind, std::move(work));
    }
    wake_.notify_one();
}

void Evaluation::postLedger() {
    if (!ledger_ || !latest_) return;
    post(Rest::ledger, [this, wanted = *ledger_, known = latest_](Progress& progress) { return readLedgerOf(wanted, known, progress); });
}

void Evaluation::postLoop() {
    if (watchesLoop_ && !loop_ && latest_)
        post(Rest::loop, [this, known = latest_](Progress& progress) { return checkLoopOf(known, progress); });
}

void Evaluation::askCounts(ObjectId formation, int question) {
    const PlanOptions options{{}, document_.folder()};
    post(Rest::question, [this, formation, question, options, scene = document_.scene(), frame = document_.frame()](Progress& progress) {
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
                return false;
            } catch (const Error& error) {
                text = error.what();
            } catch (const std::bad_alloc&) {
                text = "more than fits the memory";
            }
            emit counted(question, QString::fromStdString(kind->id), text, tooMany);
        }
        return false;
    });
}

const ActingFrames* Evaluation::actingOf(ObjectId railEntry) const {
    const auto found = std::find_if(acting_.begin(), acting_.end(), [&](const ActingFrames& card) { return card.entry == railEntry; });
    return found == acting_.end() ? nullptr : &*found;
}

/// Only where a card is silent now does anybody ask when it is not.
void Evaluation::postActing() {
    const ObjectId swarm = document_.swarm();
    const auto result = resultOf(swarm);
    if (!result || !acting_.empty()) return;
    const auto silent = [](const Census& card) { return card.touched == 0 || card.seen == 0; };
    if (std::none_of(result->cards.begin(), result->cards.end(), silent)) return;
    post(Rest::acting, [this, known = latest_, swarm](Progress& progress) { return findActingOf(known, swarm, progress); });
}

bool Evaluation::findActingOf(const std::shared_ptr<const Evaluated>& evaluated, ObjectId swarm, Progress& progress) {
    std::vector<ActingFrames> found;
    try {
        found = actingFrames(evaluated->scene, swarm, evaluated->options, evaluator_, progress);
    } catch (const Cancelled&) {
        return true;
    } catch (const Error&) {
        return false;  // the swarm says itself what is wrong with it
    }
    const auto tell = [this, found, evaluated, swarm] {
        const bool same =
            latest_ && document_.swarm() == swarm && latest_->scene == evaluated->scene && latest_->options.solo == evaluated->options.solo;
        if (!same) return;
        acting_ = found;
        emit actingKnown();
    };
    QMetaObject::invokeMethod(this, tell, Qt::QueuedConnection);
    return false;
}

int Evaluation::overlapsOf(ObjectId swarm) const {
    const auto found = overlaps_.find(swarm);
    return found == overlaps_.end() ? -1 : found->second;
}

bool Evaluation::countOverlapsOf(const std::shared_ptr<const Evaluated>& evaluated, Progress& progress) {
    std::map<ObjectId, int> counted;
    try {
        for (const auto& result : evaluated->swarms)
            if (result->visible <= mostCounted) counted[result->swarm] = countOverlaps(*result, progress);
    } catch (const Cancelled&) {
        return true;
    }
    const auto tell = [this, counted, evaluated] {
        if (latest_ != evaluated) return;
        overlaps_ = counted;
        emit overlapsKnown();
    };
    QMetaObject::invokeMethod(this, tell, Qt::QueuedConnection);
    return false;
}

void Evaluation::watchLoop() {
    if (watchesLoop_) return;
    watchesLoop_ = true;
    postLoop();
}

/// One frame after the other, so that any request comes between.
bool Evaluation::fillMemoryOf(const std::shared_ptr<const Evaluated>& evaluated, Progress& progress) {
    const Scene& scene = evaluated->scene;
    const FrameRange range = framesOf(scene);
    bool more = false;
    std::vector<bool> ready;
    try {
        for (const ObjectId swarm : scene.all(ObjectType::swarm)) {
            if (evaluated->problems.contains(swarm) || lastCardThatRemembers(scene, swarm) < 0) continue;
            const auto frames = [&] { return knownFrames(scene, swarm, range.first, range.last, evaluated->options, evaluator_.store()); };
            const auto before = frames();
            makeNextFrame(scene, swarm, range.first, range.last, evaluated->options, evaluator_.store(), progress);
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
    QMetaObject::invokeMethod(
        this,
        [this, ready] {
            if (readyFrames_ == ready) return;
            readyFrames_ = ready;
            emit framesReady();
        },
        Qt::QueuedConnection);
    return more;
}

bool Evaluation::checkLoopOf(const std::shared_ptr<const Evaluated>& evaluated, Progress& progress) {
    std::shared_ptr<const LoopCheck> check;
    try {
        check = std::make_shared<const LoopCheck>(checkLoop(evaluated->scene, evaluated->options, evaluator_, progress));
    } catch (const Cancelled&) {
        return true;
    } catch (const Error&) {
        return false;  // the swarm says itself what is wrong with it
    }
    const auto tell = [this, check, evaluated] {
        if (!latest_ || !(latest_->scene == evaluated->scene)) return;
        loop_ = check;
        emit loopChecked();
    };
    QMetaObject::invokeMethod(this, tell, Qt::QueuedConnection);
    return false;
}

bool Evaluation::readLedgerOf(const LedgerRequest& request, const std::shared_ptr<const Evaluated>& evaluated, Progress& progress) {
    try {
        if (evaluated->scene.find(request.swarm) && !evaluated->problems.contains(request.swarm)) {
            const Plan plan = evaluator_.plan(evaluated->scene, request.swarm, evaluated->frame, evaluated->options, progress);
            emit ledgerRead(readLedger(evaluator_, plan, evaluated->scene, request.query, progress));
        }
    } catch (const Cancelled&) {
        return true;
    } catch (const FormulaError& error) {
        emit ledgerRefused(error.what(), static_cast<int>(error.place));
    } catch (const Error& error) {
        emit ledgerRefused(error.what(), -1);
    }
    return false;
}
