// A sound: what it is, its bands at the frame, and where it lies in time.
#include "app/document/evaluation.h"
#include "app/settings/questions.h"
#include "app/settings/sound_picture.h"

using namespace gswarm;

namespace {

class SoundItself : public Question {
  public:
    SoundItself(SettingsDesk& desk, const Subject& sound) : Question(desk, sound, "Sound") {}

  private:
    void fill() override {
        addKindChoice(subject(), "sound", "Kind");
        body()->addWidget(new SoundPicture(document(), desk_.evaluation.evaluator().store(), subject(), 0, 1e6, content()));
        addRows(subject(), "sound");
        addRows(subject(), "laid");
    }
    QString summary() const override { return said(object().part("sound").kind->summary); }
};

}  // namespace

Question* soundItself(SettingsDesk& desk, const Subject& sound) { return new SoundItself(desk, sound); }
