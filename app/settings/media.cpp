// A picture, numbered pictures or a camera: what they show at the frame, what they are, and where they come from.
#include "app/settings/media_picture.h"
#include "app/settings/questions.h"
#include "app/settings/record_line.h"
#include "core/edit/import_edits.h"

using namespace gswarm;

namespace {

class MediaItself : public Question {
  public:
    MediaItself(SettingsDesk& desk, const Subject& media) : Question(desk, media, "Picture") {}

  private:
    void fill() override {
        addKindChoice(subject(), "media", "Kind");
        body()->addWidget(new MediaPicture(document(), subject(), content()));
        addRows(subject(), "media");
        // What reads no file can be made one.
        if (uses([this] { return fileParameter(*object().part("media").kind) < 0; }))
            body()->addWidget(new RecordLine(document(), subject(), content()));
    }
    QString summary() const override { return said(object().part("media").kind->summary); }
};

}  // namespace

Question* mediaItself(SettingsDesk& desk, const Subject& media) { return new MediaItself(desk, media); }
