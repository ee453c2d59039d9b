// What the evaluation works out when nothing else is wanted: answers to questions, overlaps, follow-through of all frames,
// the loop, the ledger.
#include <algorithm>

#include "app/document/document.h"
#include "app/document/evaluation.h"
#include "core/base/error.h"
#include "core/base/text.h"
#include "core/edit/edit.h"
#include "core/exchange/export.h"
#include "core/explain/acting_frame.h"
#include "core/formula/parse.h"
#include "core/kinds/registry.h"
#include "core/memory/memory.h"
#include "core/prepare/homes.h"
#include "core/prepare/prepare.h"
#include "core/read/overlaps.h"

using namespace gswarm;

namespace {

constexpr int mostCounted = 200'000;  // instances whose overlaps are counted

}  // namespace

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
            } catch (const std::bad_alloc&) {
                text = "more than fits the memory";
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
            const Plan plan = evaluator_.plan(evaluated->scene, request.swarm, evaluated->frame, evaluated->options, *current_);
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
