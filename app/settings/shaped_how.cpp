// Shaped how: the response of where a gesture acts and of what drives it, each with its curve over the values of now.
#include <algorithm>
#include <cmath>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

#include "app/document/evaluation.h"
#include "app/fields/curve_field.h"
#include "app/settings/questions.h"
#include "app/theme/theme.h"
#include "core/pattern/pattern_kind.h"
#include "core/resolve/resolve.h"
#include "core/response/response.h"

using namespace gswarm;

namespace {

Response responseOf(const Scene& scene, const Part& part, double frame) {
    Response response = resolve(scene, part, frame).as<Response>();
    response.table = tableOf(response.points);
    return response;
}

/// Raw values as the curve takes them: 0 … 1 over the range, after normalising and inverting.
std::vector<float> asComing(const Response& response, bool isSigned, const std::vector<float>& raw) {
    std::vector<float> coming;
    if (raw.empty()) return coming;
    const auto [least, most] = std::minmax_element(raw.begin(), raw.end());
    const float spread = *most - *least, span = response.inHigh - response.inLow;
    for (float v : raw) {
        if (response.normalise) v = spread > 0 ? (v - *least) / spread * (isSigned ? 2 : 1) - (isSigned ? 1 : 0) : 0;
        if (response.invert) v = isSigned ? -v : 1 - v;
        v = span != 0 ? (v - response.inLow) / span : 0;
        coming.push_back(isSigned ? std::abs(v) : v);
    }
    return coming;
}

/// The curve and the steps alone.
std::function<double(double)> curveOf(Response response) {
    response.normalise = response.invert = response.clip = false;
    response.inLow = response.outLow = 0;
    response.inHigh = response.outHigh = 1;
    return [response](double at) { return respondOne(response, false, static_cast<float>(at)); };
}

class ShapedHow : public Question {
  public:
    ShapedHow(SettingsDesk& desk, const Subject& gesture) : Question(desk, gesture, "Shaped how") { startClosed(); }

  private:
    void fill() override {
        const std::string slot = uses([this] { return slot_; });
        QHBoxLayout* line = addLine();
        line->setContentsMargins(0, 0, 0, 2);
        line->setSpacing(3);
        for (const auto& [of, title] : {std::pair{"where", "Where it acts"}, {"shaped", "What drives it"}}) {
            auto* button = new QPushButton(title, content());
            button->setObjectName(QString("response-%1").arg(of));
            button->setCheckable(true);
            button->setChecked(slot == of);
            line->addWidget(button, 1);
            connect(button, &QPushButton::clicked, this, [this, button, of = of] {
                button->setChecked(true);
                slot_ = of;
                refresh();
            });
        }
        addCurve(slot);
        addRows(subject(), slot, {}, {"curve"});
        addSideBySide(subject(), {slot + "-inLow", slot + "-inHigh"}, "From");
        addSideBySide(subject(), {slot + "-outLow", slot + "-outHigh"}, "To");
        addRows(subject(), slot, {}, {"steps"});
        addSideBySide(subject(), {slot + "-normalise", slot + "-invert", slot + "-clip"}, {});
    }

    QString summary() const override {
        const auto plain = [this](const char* slot) {
            const Part& part = object().part(slot);
            return part.values == standardPart(*part.kind).values;
        };
        return plain("where") && plain("shaped") ? "as it is" : "bent";
    }

    void addCurve(const std::string& slot) {
        auto* field = new CurveField(content());
        auto* cut = new QLabel(content());
        cut->setObjectName("clipTold");
        cut->setWordWrap(true);
        cut->setStyleSheet("color: #f08a72;");
        body()->addWidget(field);
        body()->addWidget(cut);
        tells([this, field, cut, slot] { showCurve(field, cut, slot); });
        connect(field, &CurveField::edited, this, [this, slot](const CurvePoints& points) { drawCurve(slot, points); });
        connect(field, &CurveField::finished, this, [this] { document().seal(); });
        connect(field, &CurveField::trouble, &desk_, &SettingsDesk::trouble);
    }

    void showCurve(CurveField* field, QLabel* cut, const std::string& slot) {
        const Object* gesture = scene().find(subject());
        if (!gesture) return;
        const Response response = responseOf(scene(), gesture->part(slot), document().frame());
        const auto census = desk_.censusOf(subject());
        const bool where = slot == "where";
        const bool isSigned = !where && static_cast<const PatternKind*>(gesture->part("pattern").kind)->isSigned;
        CurveField::State state;
        state.points = response.points;
        state.drawn = response.curve == ResponseCurve::drawn;
        state.value = curveOf(response);
        state.clips = response.clip;
        if (census) state.coming = asComing(response, isSigned, where ? census->samples.where : census->samples.driven);
        field->show(state);
        const int clipped = !census ? 0 : where ? census->clippedWhere : census->clippedShaped;
        const auto result = desk_.evaluation.resultOf(document().swarm());
        cut->setVisible(clipped > 0);
        if (clipped > 0 && result)
            cut->setText(
                "The clip cuts " + theme::counted(clipped, "value") +
                QString(", %1 % of all").arg(std::max(1, static_cast<int>(std::lround(100.0 * clipped / std::max(result->count, 1))))));
    }

    /// The points count from now on.
    void drawCurve(const std::string& slot, const CurvePoints& points) {
        document().edit([&](const Scene& scene) {
            Edit edit = setValue(scene, addressOf(scene, subject(), slot + "-points"), points);
            const std::string key = edit.mergeKey;
            if (choiceOf(scene.at(subject()).part(slot), "curve") != "drawn") {
                edit = setValue(edit.scene, addressOf(edit.scene, subject(), slot + "-curve"), std::string("drawn"));
                edit.mergeKey = key;
            }
            edit.label = scene.at(subject()).name + ": curve";
            return edit;
        });
    }

    std::string slot_ = "where";  ///< which of the two responses is shown
};

}  // namespace

Question* shapedHow(SettingsDesk& desk, const Subject& gesture) { return new ShapedHow(desk, gesture); }
