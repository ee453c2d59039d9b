// A picture, numbered pictures or a camera: what they show at the frame, what they are, and where they come from.
#include "app/settings/media_picture.h"
#include "app/settings/questions.h"

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
    }
    QString summary() const override { return said(object().part("media").kind->summary); }
};

}  // namespace

Question* mediaItself(SettingsDesk& desk, const Subject& media) { return new MediaItself(desk, media); }
