// A sound: what it is, its bands at the frame, and where it lies in time.
#include "app/document/evaluation.h"
#include "app/settings/questions.h"
#include "app/settings/record_line.h"
#include "app/settings/sound_picture.h"
#include "core/edit/import_edits.h"

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
        // What reads no file can be made one.
        if (uses([this] { return fileParameter(*object().part("sound").kind) < 0; }))
            body()->addWidget(new RecordLine(document(), subject(), content()));
    }
    QString summary() const override { return said(object().part("sound").kind->summary); }
};

}  // namespace

Question* soundItself(SettingsDesk& desk, const Subject& sound) { return new SoundItself(desk, sound); }
