// Driven by: the pattern, and what it gives at this frame.
#include <algorithm>
#include <cmath>
#include <QLabel>
#include <tuple>

#include "app/document/evaluation.h"
#include "app/document/tally_text.h"
#include "app/settings/media_picture.h"
#include "app/settings/questions.h"
#include "app/settings/sound_picture.h"
#include "core/flow/result.h"
#include "core/resolve/references.h"
#include "core/resolve/resolve.h"

using namespace gswarm;

namespace {

class DrivenBy : public Question {
  public:
    DrivenBy(SettingsDesk& desk, const Subject& gesture) : Question(desk, gesture, "Driven by") {}

  private:
    void fill() override {
        addKindChoice(subject(), "pattern", "Pattern");
        addRows(subject(), "pattern");
        const ObjectId media = uses([this] {
            const Part& pattern = object().part("pattern");
            const ObjectId read = pattern.kind->indexOf("media") >= 0 ? referenceOf(pattern, "media") : ObjectId{};
            return scene().find(read) ? read : ObjectId{};
        });
        if (media) {
            auto* picture = new MediaPicture(document(), media, content());
            body()->addWidget(picture);
            tells([this, picture] { picture->showPlaces(placesOnPicture()); });
        }
        addSound();
        auto* line = new QLabel(content());
        line->setObjectName("drivenTold");
        line->setWordWrap(true);
        line->setStyleSheet("color: #f08a72;");
        body()->addWidget(line);
        tells([this, line] { tell(line); });
    }

    /// The bands of the sound that is listened to.
    void addSound() {
        const auto listened = uses([this] {
            const Part& pattern = object().part("pattern");
            const ObjectId sound = pattern.kind->indexOf("sound") >= 0 ? referenceOf(pattern, "sound") : ObjectId{};
            if (!scene().find(sound)) return std::tuple{ObjectId{}, 0.0, 0.0};
            const bool band = choiceOf(pattern, "read") == "band";
            const auto number = [&](const char* id) { return numberAt(scene(), pattern, id, 0); };
            return std::tuple{sound, band ? number("low") : 0, band ? number("high") : 1e6};
        });
        if (const ObjectId sound = std::get<0>(listened))
            body()->addWidget(new SoundPicture(document(), desk_.evaluation.evaluator().store(), sound, std::get<1>(listened),
                                               std::get<2>(listened), content()));
    }

    std::vector<QPointF> placesOnPicture() const {
        std::vector<QPointF> places;
        if (const auto census = desk_.censusOf(subject()))
            for (std::size_t i = 0; i < census->samples.u.size(); ++i) places.emplace_back(census->samples.u[i], census->samples.v[i]);
        return places;
    }

    QString summary() const override { return said(object().part("pattern").kind->label); }

    /// What it gives stands beside the title; below the rows what is wrong.
    void tell(QLabel* line) {
        const auto census = desk_.censusOf(subject());
        QString wrong, note;
        if (census && !census->waits.empty()) {
            wrong = "It waits. " + said(census->waits);
        } else if (census && census->notFinite > 0) {
            wrong = notFiniteText(census->notFinite);
        } else if (census && census->acts && !census->samples.driven.empty()) {
            const auto [least, most] = std::minmax_element(census->samples.driven.begin(), census->samples.driven.end());
            const auto shown = [](float v) { return QString::number(std::round(v * 1000) / 1000); };
            note = *least == *most ? "gives " + shown(*least) : "gives " + shown(*least) + " to " + shown(*most);
        }
        line->setText(wrong);
        line->setVisible(!wrong.isEmpty());
        setNote(note);
    }
};

}  // namespace

Question* drivenBy(SettingsDesk& desk, const Subject& gesture) { return new DrivenBy(desk, gesture); }
