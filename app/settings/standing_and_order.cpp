// How instances stand on their homes, and in which order they count.
#include "app/settings/questions.h"
#include "core/scene/object_kinds.h"

using namespace gswarm;

namespace {

class StandingAndOrder : public Question {
  public:
    StandingAndOrder(SettingsDesk& desk, const Subject& formation) : Question(desk, formation, "Standing and order") { startClosed(); }

  private:
    void fill() override {
        addRows(subject(), "standing");
        addRows(subject(), "order");
    }

    QString summary() const override {
        const bool untouched = object().part("standing").values == standardPart(standingKind).values &&
                               object().part("order").values == standardPart(orderKind).values;
        return untouched ? "as formed" : "changed";
    }
};

}  // namespace

Question* standingAndOrder(SettingsDesk& desk, const Subject& formation) { return new StandingAndOrder(desk, formation); }
