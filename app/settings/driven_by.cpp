// Driven by: the pattern, and what it gives at this frame.
#include <algorithm>
#include <cmath>
#include <QLabel>

#include "app/document/tally_text.h"
#include "app/settings/media_picture.h"
#include "app/settings/questions.h"
#include "core/flow/result.h"
#include "core/resolve/references.h"

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
        auto* line = new QLabel(content());
        line->setObjectName("drivenTold");
        line->setWordWrap(true);
        line->setStyleSheet("color: #f08a72;");
        body()->addWidget(line);
        tells([this, line] { tell(line); });
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
