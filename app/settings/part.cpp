// Any part of an object that has no question of its own: its kind, if there are several, and the rows of its table.
#include <algorithm>

#include "app/settings/questions.h"
#include "core/kinds/registry.h"

using namespace gswarm;

namespace {

const SlotInfo& slotOf(const Subject& subject) {
    const auto& infos = classOf(subject.object.type()).slotInfos;
    return *std::find_if(infos.begin(), infos.end(), [&](const auto& info) { return info.id == subject.part; });
}

class PartQuestion : public Question {
  public:
    PartQuestion(SettingsDesk& desk, const Subject& part) : Question(desk, part, titleOf(desk.document.scene(), part)) {}

  private:
    static QString titleOf(const Scene& scene, const Subject& part) {
        const auto& info = slotOf(part);
        return said(info.only ? info.only->label : scene.at(part.object).part(part.part).kind->label);
    }

    void fill() override {
        setTitle(uses([this] { return titleOf(scene(), {subject(), subjectPart()}); }));
        const auto& info = slotOf({subject(), subjectPart()});
        if (!info.only && kindsOf(info.family).size() > 1) addKindChoice(subject(), subjectPart(), "Kind");
        addRows(subject(), subjectPart());
    }

    QString summary() const override { return said(object().part(subjectPart()).kind->summary); }
};

}  // namespace

Question* partOf(SettingsDesk& desk, const Subject& part) { return new PartQuestion(desk, part); }
