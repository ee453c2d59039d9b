#include "app/rail/gallery.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <cmath>
#include <QGridLayout>
#include <QKeyEvent>
#include <QPainter>
#include <QPushButton>
#include <thread>

#include "app/scene/own_starts_row.h"
#include "app/theme/theme.h"
#include "core/arrange/fitted_edits.h"
#include "core/arrange/symmetry_edits.h"
#include "core/edit/edit.h"
#include "core/evaluate/evaluator.h"
#include "core/kinds/registry.h"

using namespace gswarm;

namespace {

constexpr int columns = 5, frames = 50, firstShown = 18;

/// What must come before, for the gesture to have something to do.
const char* before(const std::string& start) {
    if (start == "makeRoom" || start == "snap" || start == "aim" || start == "fall") return "scatter";
    if (start == "swing") return "grow";
    return start == "smooth" ? "randomSize" : nullptr;
}

/// A row of nine blocks with the gesture on it, evaluated like any swarm.
Scene sampleScene(const GestureStart& start) {
    Edit edit = addSwarm(emptyScene());
    const ObjectId swarm = edit.made;
    const ObjectId grid = edit.scene.at(swarm).list("formations").front();
    const auto set = [&](ObjectId object, const char* parameter, const Value& value) {
        edit = setValue(edit.scene, addressOf(edit.scene, object, parameter), value);
    };
    set(grid, "count", fixedNumbers({9, 1, 1}));
    set(edit.scene.project().id, "loopFrames", fixedNumbers({double(frames)}));
    for (const GestureStart& other : gestureStarts())
        if (before(start.id) && other.id == before(start.id)) edit = addGesture(edit.scene, swarm, other.make());
    edit = addGestureStart(edit.scene, swarm, start, {}, nullptr);
    const ObjectId gesture = edit.made;
    const GestureKind& kind = gestureKindOf(edit.scene.at(gesture).part("change"));
    if (kind.timeShift && kind.timeShift(edit.scene.at(gesture).part("change"))) {
        // What is repeated grows and shrinks.
        const ObjectId entry = edit.scene.at(swarm).list("stock").front(), box = referenceOf(edit.scene.at(entry).part("entry"), "shape");
        auto keys = std::make_shared<const std::vector<Key>>(
            std::vector<Key>{{0, 0.3, Ease::eased}, {frames / 2, 2.4, Ease::eased}, {frames, 0.3, Ease::eased}});
        set(box, "size", Numbers{{0.8}, {0.3, keys}, {0.8}});
        set(entry, "roundLoop", true);
    }
    const auto thereAndBack = [&](double most) {
        auto keys = std::make_shared<const std::vector<Key>>(
            std::vector<Key>{{0, 0, Ease::eased}, {frames / 2, most, Ease::eased}, {frames, 0, Ease::eased}});
        set(gesture, "strength", Numbers{{100, keys}});
    };
    if (kind.measure) {
        // What goes to what it meets is pressed out of a ball that is seen by that alone.
        const ObjectId ball = referenceOf(edit.scene.at(gesture).part("change"), "against");
        set(ball, "radius", fixedNumbers({4.2}));
        set(gesture, "along", std::string("y"));
        set(gesture, "reach", fixedNumbers({10}));
        set(grid, "count", fixedNumbers({9, 1, 3}));
        thereAndBack(35);
    }
    if (kind.carryOn) set(swarm, "position", fixedNumbers({0, 1.3, 0}));  // above the ground
    if (!kind.handles) return edit.scene;
    // What warps space shows it on three rows, along them, there and back.
    set(grid, "count", fixedNumbers({9, 1, 3}));
    set(gesture, "rotation", fixedNumbers({0, 0, -90}));
    for (const auto& [parameter, value] : {std::pair{"from", -4.0}, {"to", 4.0}, {"radius", 2.5}, {"angle", 60.0}})
        if (kind.indexOf(parameter) >= 0) set(gesture, parameter, fixedNumbers({value}));
    thereAndBack(100);
    return edit.scene;
}

/// Blocks that rise one after the other, and their copies.
Scene sampleScene(const SymmetryKind& kind) {
    Edit edit = addSwarm(emptyScene());
    const ObjectId swarm = edit.made;
    const auto set = [&](ObjectId object, const char* parameter, const Value& value) {
        edit = setValue(edit.scene, addressOf(edit.scene, object, parameter), value);
    };
    set(edit.scene.at(swarm).list("formations").front(), "count", fixedNumbers({4, 1, 1}));
    set(edit.scene.project().id, "loopFrames", fixedNumbers({double(frames)}));
    for (const GestureStart& start : gestureStarts())
        for (const char* wanted : {"rise", "wave"})
            if (start.id == wanted) {
                edit = addGesture(edit.scene, swarm, start.make());
                if (start.id == "rise") set(edit.made, "positionAmount", fixedNumbers({-2.6, 0, 0}));
            }
    return addSymmetry(edit.scene, swarm, kind, nullptr).scene;
}

class Sample : public QPushButton {
  public:
    struct Told {
        QString name, label, summary;
    };
    Sample(Told told, Scene scene, QWidget* parent) : QPushButton(parent), told_(std::move(told)), scene_(std::move(scene)) {
        setObjectName(told_.name);
        setStyleSheet("min-width: 176px; max-width: 176px; min-height: 96px; max-height: 96px; padding: 0; border: none;");
        setAccessibleName(told_.label);
        setToolTip(told_.summary);
    }
    const Scene& scene() const { return scene_; }
    bool pictured() const {
        return std::any_of(results_.begin(), results_.end(), [](const auto& result) { return result != nullptr; });
    }
    void advance() {
        frame_ = (frame_ + 1) % frames;
        update();
    }
    /// The blocks at a frame, once they are known.
    void take(int frame, std::shared_ptr<const Result> result) {
        for (const Front& front : frontsOf(*result)) reach_ |= front.face.boundingRect() | front.top.boundingRect();
        results_[static_cast<std::size_t>(frame)] = std::move(result);
        update();
    }

  protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setPen(QPen(hasFocus() ? theme::gold : underMouse() ? theme::quiet : theme::line, 1));
        painter.setBrush(theme::panel);
        painter.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 4, 4);
        paintBlocks(painter);
        painter.setFont(theme::text(13, QFont::DemiBold));
        painter.setPen(theme::ivory);
        painter.drawText(QRectF(10, 46, width() - 20, 18), told_.label);
        painter.setFont(theme::text(11));
        painter.setPen(theme::quiet);
        painter.drawText(QRectF(10, 62, width() - 18, 30), Qt::TextWordWrap, told_.summary);
    }

  private:
    void paintBlocks(QPainter& painter) {
        // The frames come one after the other; until one is there the last known stands for it.
        std::shared_ptr<const Result> result;
        for (int back = 0; back < frames && !result; ++back) result = results_[static_cast<std::size_t>((frame_ + frames - back) % frames)];
        if (!result) return;
        std::vector<Front> fronts = frontsOf(*result);
        // One behind the other; where all stand in a row they keep their order.
        std::stable_sort(fronts.begin(), fronts.end(), [](const Front& a, const Front& b) { return a.depth < b.depth; });
        painter.save();
        painter.setTransform(intoPlace(), true);
        painter.setPen(QPen(theme::ink, 0.8));
        for (const Front& front : fronts) {
            painter.setBrush(front.colour.darker(125));
            painter.drawPolygon(front.face);
            painter.setBrush(front.colour);
            painter.drawPolygon(front.top);
        }
        painter.restore();
    }
    /// What goes beyond the place above the words at any frame is made smaller and moved there, in all frames alike.
    QTransform intoPlace() const {
        const QRectF place(8, 5, width() - 16, 40);
        const qreal scale = std::min({1.0, place.width() / reach_.width(), place.height() / reach_.height()});
        const QRectF scaled(reach_.topLeft() * scale, reach_.size() * scale);
        const auto into = [](qreal low, qreal high, qreal least, qreal most) {
            return std::max(0.0, least - low) + std::min(0.0, most - high);
        };
        const qreal right = into(scaled.left(), scaled.right(), place.left(), place.right());
        const qreal down = into(scaled.top(), scaled.bottom(), place.top(), place.bottom());
        return QTransform::fromTranslate(right, down).scale(scale, scale);
    }
    /// A block as it is painted: seen a little from above, without perspective.
    struct Front {
        float depth;
        QPolygonF face, top;
        QColor colour;
    };
    std::vector<Front> frontsOf(const Result& result) const {
        std::vector<Front> fronts;
        for (const glm::mat4& copy : result.copies)
            for (int i = 0; i < result.count; ++i) fronts.push_back(frontOf(result, copy, i));
        return fronts;
    }
    Front frontOf(const Result& result, const glm::mat4& copy, int i) const {
        const float* m = &result.columns->matrix[12 * static_cast<std::size_t>(i)];
        const std::uint32_t c = result.columns->colour[static_cast<std::size_t>(i)];
        const glm::mat4 own = copy * glm::mat4{m[0], m[4], m[8], 0, m[1], m[5], m[9], 0, m[2], m[6], m[10], 0, m[3], m[7], m[11], 1};
        const auto flat = [&](float x, float y, float z) {
            const glm::vec4 p = own * glm::vec4(x, y, z, 1);
            return QPointF(width() / 2.0 + p.x * 12 + p.z * 4, 40 - p.y * 11 + p.z * 4);
        };
        return {own[3].z,
                {{flat(-0.4f, 0, 0.4f), flat(0.4f, 0, 0.4f), flat(0.4f, 0.8f, 0.4f), flat(-0.4f, 0.8f, 0.4f)}},
                {{flat(-0.4f, 0.8f, 0.4f), flat(0.4f, 0.8f, 0.4f), flat(0.4f, 0.8f, -0.4f), flat(-0.4f, 0.8f, -0.4f)}},
                QColor(c & 255, c >> 8 & 255, c >> 16 & 255)};
    }

    Told told_;
    Scene scene_;
    int frame_ = firstShown;
    QRectF reach_;  ///< of the blocks at all frames that are known
    std::array<std::shared_ptr<const Result>, frames> results_;
};

}  // namespace

/// Evaluates all pictures beside the window: first one frame of each, then the others in the order they are shown in.
struct Gallery::Maker {
    std::vector<Sample*> samples;
    std::atomic<bool> stop = false;
    Progress progress;
    std::thread thread;

    void start() {
        thread = std::thread([this] {
            Evaluator evaluator(1);
            for (int k = 0; k < frames; ++k)
                for (Sample* sample : samples) {
                    if (stop) return;
                    make(evaluator, *sample, (firstShown + k) % frames);
                }
        });
    }
    void make(Evaluator& evaluator, Sample& sample, int frame) {
        try {
            const Scene& scene = sample.scene();
            auto result = evaluator.evaluate(scene, scene.all(ObjectType::swarm).front(), frame, {}, progress);
            QMetaObject::invokeMethod(&sample, [&sample, frame, result] { sample.take(frame, result); });
        } catch (const Cancelled&) {
            // The gallery goes.
        } catch (const std::exception&) {
            // A picture that can't be made stays without blocks.
        }
    }
    ~Maker() {
        stop = true;
        progress.cancel();
        if (thread.joinable()) thread.join();
    }
};

Gallery::Gallery(QWidget* parent) : QFrame(parent, Qt::Popup) {
    setObjectName("gallery");
    setStyleSheet("#gallery { background: #15120e; border: 1px solid #3a3329; border-radius: 4px; }");
    auto* grid = new QGridLayout(this);
    grid->setContentsMargins(8, 8, 8, 8);
    grid->setSpacing(6);
    std::vector<Sample*> samples;
    int n = 0;
    const auto add = [&](const char* prefix, const std::string& id, const std::string& label, const std::string& summary, Scene scene) {
        const auto text = [](const std::string& s) { return QString::fromStdString(s); };
        auto* sample = new Sample({prefix + text(id), text(label), text(summary)}, std::move(scene), this);
        grid->addWidget(sample, n / columns, n % columns);
        ++n;
        samples.push_back(sample);
        return sample;
    };
    for (const GestureStart& start : gestureStarts()) {
        Sample* sample = add("gesture-", start.id, start.label, start.summary, sampleScene(start));
        connect(sample, &QPushButton::clicked, this, [this, &start] {
            hide();
            emit taken(start);
        });
    }
    for (const Kind* found : kindsOf(Family::symmetry)) {
        const auto& kind = static_cast<const SymmetryKind&>(*found);
        Sample* sample = add("symmetry-", kind.id, kind.label, kind.summary, sampleScene(kind));
        connect(sample, &QPushButton::clicked, this, [this, &kind] {
            hide();
            emit symmetryTaken(kind);
        });
    }
    own_ = new OwnStartsRow({StartOf::gesture, StartOf::rail}, 7, this);
    grid->addWidget(own_, (n + columns - 1) / columns, 0, 1, columns);
    connect(own_, &OwnStartsRow::taken, this, [this](const std::filesystem::path& path) {
        hide();
        emit ownTaken(path);
    });
    maker_ = std::make_unique<Maker>();
    maker_->samples = samples;
    // A sound has to be listened through before anything is seen: the others do not wait for it.
    std::stable_partition(maker_->samples.begin(), maker_->samples.end(),
                          [](const Sample* sample) { return sample->scene().all(ObjectType::sound).empty(); });
    timer_.setInterval(60);
    connect(&timer_, &QTimer::timeout, this, [samples] {
        for (Sample* sample : samples) sample->advance();
    });
}

Gallery::~Gallery() = default;

bool Gallery::pictured() const {
    return std::all_of(maker_->samples.begin(), maker_->samples.end(), [](const Sample* sample) { return sample->pictured(); });
}

void Gallery::showEvent(QShowEvent*) {
    own_->refresh();
    adjustSize();
    timer_.start();
    if (!maker_->thread.joinable()) maker_->start();
}
