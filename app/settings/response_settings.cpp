// Shaped how: the response of where a gesture acts and of what drives it, each with its curve over the values of now.
#include "app/settings/settings.h"

#include <algorithm>
#include <cmath>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

#include "app/document/evaluation.h"
#include "app/fields/curve_field.h"
#include "app/settings/parameter_row.h"
#include "app/settings/section.h"
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

}  // namespace

void Settings::addResponses(Section* section, const Object& gesture) {
    auto* choice = new QWidget(content_);
    auto* line = new QHBoxLayout(choice);
    line->setContentsMargins(0, 0, 0, 2);
    line->setSpacing(3);
    for (const auto& [slot, title] : {std::pair<std::string, const char*>{"where", "Where it acts"}, {"shaped", "What drives it"}}) {
        auto* button = new QPushButton(title, choice);
        button->setObjectName("response-" + said(slot));
        button->setCheckable(true);
        button->setChecked(shapedSlot_ == slot);
        line->addWidget(button, 1);
        connect(button, &QPushButton::clicked, this, [this, slot = slot] {
            shapedSlot_ = slot;
            refresh();
        });
    }
    section->body()->addWidget(choice);
    addCurve(section, gesture.id);
    addRows(section, gesture.id, shapedSlot_, {}, {"curve"});
    addSideBySide(section, gesture.id, {shapedSlot_ + "-inLow", shapedSlot_ + "-inHigh"}, "From");
    addSideBySide(section, gesture.id, {shapedSlot_ + "-outLow", shapedSlot_ + "-outHigh"}, "To");
    addRows(section, gesture.id, shapedSlot_, {}, {"steps"});
    addSideBySide(section, gesture.id, {shapedSlot_ + "-normalise", shapedSlot_ + "-invert", shapedSlot_ + "-clip"}, {});
}

/// Rows of several parameters in one line: with a common label before short fields, or each with a narrow label of its own.
void Settings::addSideBySide(Section* section, ObjectId object, const std::vector<std::string>& parameters, const QString& common) {
    auto* box = new QWidget(content_);
    auto* line = new QHBoxLayout(box);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(4);
    if (!common.isEmpty()) {
        auto* label = new QLabel(common, box);
        label->setFixedWidth(92);
        label->setStyleSheet("color: #a3967f;");
        line->addWidget(label);
    }
    for (const std::string& parameter : parameters) {
        const Address address = addressOf(document_.scene(), object, parameter);
        auto* row = new ParameterRow(document_, address, box);
        const QString label = said(parameterAt(document_.scene(), address).label);
        row->setLabelWidth(common.isEmpty() ? row->fontMetrics().horizontalAdvance(label) + 4 : 0);
        connect(row, &ParameterRow::trouble, this, &Settings::trouble);
        line->addWidget(row, 1);
        rows_.push_back(row);
    }
    section->body()->addWidget(box);
}

void Settings::addCurve(Section* section, ObjectId gesture) {
    auto* field = new CurveField(content_);
    auto* cut = new QLabel(content_);
    cut->setObjectName("clipTold");
    cut->setWordWrap(true);
    cut->setStyleSheet("color: #f08a72;");
    section->body()->addWidget(field);
    section->body()->addWidget(cut);
    const std::string slot = shapedSlot_;
    const auto tell = [this, field, cut, gesture, slot] {
        const Object* object = document_.scene().find(gesture);
        if (!object) return;
        const Response response = responseOf(document_.scene(), object->part(slot), document_.frame());
        const auto census = censusOf(gesture);
        const bool where = slot == "where";
        const bool isSigned = !where && static_cast<const PatternKind*>(object->part("pattern").kind)->isSigned;
        CurveField::State state;
        state.points = response.points;
        state.drawn = response.curve == ResponseCurve::drawn;
        state.value = curveOf(response);
        state.clips = response.clip;
        if (census) state.coming = asComing(response, isSigned, where ? census->samples.where : census->samples.driven);
        field->show(state);
        const int clipped = !census ? 0 : where ? census->clippedWhere : census->clippedShaped;
        const auto result = evaluation_.resultOf(document_.swarm());
        cut->setVisible(clipped > 0);
        if (clipped > 0 && result)
            cut->setText(
                "The clip cuts " + theme::counted(clipped, "value") +
                QString(", %1 % of all").arg(std::max(1, static_cast<int>(std::lround(100.0 * clipped / std::max(result->count, 1))))));
    };
    told_.push_back(tell);
    tell();
    connect(field, &CurveField::edited, this, [this, gesture, slot](const CurvePoints& points) { drawCurve(gesture, slot, points); });
    connect(field, &CurveField::finished, this, [this] { document_.seal(); });
    connect(field, &CurveField::trouble, this, &Settings::trouble);
}

/// The points count from now on.
void Settings::drawCurve(ObjectId gesture, const std::string& slot, const CurvePoints& points) {
    document_.edit([&](const Scene& scene) {
        Edit edit = gswarm::setValue(scene, addressOf(scene, gesture, slot + "-points"), points);
        const std::string key = edit.mergeKey;
        if (choiceOf(scene.at(gesture).part(slot), "curve") != "drawn") {
            edit = gswarm::setValue(edit.scene, addressOf(edit.scene, gesture, slot + "-curve"), std::string("drawn"));
            edit.mergeKey = key;
        }
        edit.label = scene.at(gesture).name + ": curve";
        return edit;
    });
}
