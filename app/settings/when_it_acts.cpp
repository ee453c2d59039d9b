// When: how strong at which frame, in which order, and what it remembers.
#include <array>
#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

#include "app/fields/key_menu.h"
#include "app/fields/number_field.h"
#include "app/settings/questions.h"
#include "core/edit/timing_edits.h"
#include "core/explain/loop_check.h"
#include "core/resolve/resolve.h"

using namespace gswarm;

namespace {

/// "Each takes · last starts at · all done at": editing one adjusts the others.
struct TimingField {
    const char *name, *label, *summary;
    double (*read)(const Timing&);
    Edit (*write)(const Scene&, ObjectId, double);

    Parameter parameter() const {
        Parameter p;
        p.label = label;
        p.summary = summary;
        p.unit = "frames";
        p.type = ParameterType::whole;
        p.suggested = {0, 200};
        return p;
    }
};
constexpr std::array<TimingField, 3> timingFields{
    {{"timing-each", "Each takes", "How long every single instance takes", [](const Timing& t) { return t.each; }, setEach},
     {"timing-last", "Last starts at", "The frame at which the last instance starts", [](const Timing& t) { return t.lastStarts; },
      setLastStart},
     {"timing-done", "All done at", "The frame at which all have finished", [](const Timing& t) { return t.done(); }, setDone}}};

class WhenItActs : public Question {
  public:
    WhenItActs(SettingsDesk& desk, const Subject& gesture) : Question(desk, gesture, "When") {}

  private:
    std::optional<Timing> timing() const {
        return scene().find(subject()) ? timingOf(scene(), subject(), document().frame()) : std::nullopt;
    }
    bool remembers() const {
        const Part& follow = object().part("follow");
        return choiceOf(follow, "weight") != "none" || choiceOf(follow, "driven") != "none";
    }

    void fill() override {
        addRows(subject(), "change", {}, {"strength"});
        if (uses([this] { return timing().has_value(); }))
            addTiming();
        else
            addGrow();
        addRows(subject(), "when");
        addRows(subject(), "follow", uses([this] { return remembers(); }) ? std::vector<std::string>{} : std::vector<std::string>{"loops"});
        if (uses([this] { return !loopMends(scene(), subject()).empty(); })) addMakeLoop();
    }

    QString summary() const override {
        const Part& change = object().part("change");
        const bool keyed = std::get<Numbers>(change["strength"])[0].keyed();
        const QString strength = keyed ? "keyed" : QString("%1 %").arg(numberAt(scene(), change, "strength", document().frame()));
        return strength + (choiceOf(object().part("when"), "by") == "none" ? ", all at once" : ", staggered") +
               (remembers() ? ", follows through" : "");
    }

    void addMakeLoop() {
        auto* loop = new QPushButton("Make it loop", content());
        loop->setObjectName("makeLoop");
        loop->setToolTip("Speeds become whole laps, keys come back, a memory starts one loop early");
        body()->addWidget(loop);
        connect(loop, &QPushButton::clicked, this, [this] {
            document().edit([&](const Scene& s) { return makeLoop(s, subject()); });
            document().seal();
        });
    }

    void addGrow() {
        auto* grow = new QPushButton("Grow from 0 to 100 % over a second", content());
        grow->setObjectName("grow");
        grow->setToolTip("Two keys of the strength, from the playhead on");
        body()->addWidget(grow);
        connect(grow, &QPushButton::clicked, this, [this] {
            document().edit([&](const Scene& s) { return growFrom(s, subject(), document().frame()); });
            document().seal();
        });
    }

    void addTiming() {
        auto* row = new QWidget(content());
        row->setObjectName("timing");
        auto* grid = new QGridLayout(row);
        grid->setContentsMargins(0, 0, 0, 0);
        grid->setSpacing(3);
        const double rate = uses([this] { return momentAt(scene(), 0).rate; });
        std::array<NumberField*, timingFields.size()> numbers{};
        std::array<QLabel*, timingFields.size()> seconds{};
        for (std::size_t k = 0; k < timingFields.size(); ++k) {
            const TimingField& field = timingFields[k];
            auto* label = new QLabel(field.label, row);
            label->setStyleSheet("color: #a3967f;");
            auto* number = numbers[k] = new NumberField(field.parameter(), rate, row);
            number->setObjectName(field.name);
            grid->addWidget(label, 0, static_cast<int>(k));
            grid->addWidget(number, 1, static_cast<int>(k));
            seconds[k] = new QLabel(row);
            seconds[k]->setObjectName(QString("seconds-%1").arg(field.name));
            seconds[k]->setStyleSheet("color: #a3967f;");
            seconds[k]->setAlignment(Qt::AlignRight);
            grid->addWidget(seconds[k], 2, static_cast<int>(k));
            connect(number, &NumberField::edited, this,
                    [this, write = field.write](double v) { document().edit([&](const Scene& s) { return write(s, subject(), v); }); });
            connect(number, &NumberField::finished, this, [this] { document().seal(); });
            connect(number, &NumberField::trouble, &desk_, &SettingsDesk::trouble);
        }
        body()->addWidget(row);
        tells([this, numbers, seconds, rate] {
            const auto now = timing();
            if (!now) return;
            for (std::size_t k = 0; k < numbers.size(); ++k) {
                const double frames = timingFields[k].read(*now);
                numbers[k]->show(frames, NumberField::Mark::none);
                seconds[k]->setText(QString::number(frames / rate, 'f', 2) + " s");
            }
        });
        addGrowthEase();
    }

    /// The ease of the growth of each; that of the order is the stagger's own.
    void addGrowthEase() {
        auto* box = new QComboBox;
        box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);  // long choices never widen the panel
        box->setObjectName("growthEase");
        for (const EaseChoice& choice : easeChoices()) box->addItem(choice.label, static_cast<int>(choice.ease));
        addLine("Ease of each")->addWidget(box, 1);
        connect(box, &QComboBox::activated, this, [this, box] {
            const auto ease = static_cast<Ease>(box->currentData().toInt());
            document().edit([&](const Scene& s) { return setGrowthEase(s, subject(), ease); });
            document().seal();
        });
        tells([this, box] {
            if (const auto now = timing()) box->setCurrentIndex(box->findData(static_cast<int>(now->ease)));
        });
    }
};

}  // namespace

Question* whenItActs(SettingsDesk& desk, const Subject& gesture) { return new WhenItActs(desk, gesture); }
