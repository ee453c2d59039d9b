#include "core/read/ledger.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <numeric>

#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/base/text.h"
#include "core/base/turns.h"
#include "core/edit/edit.h"
#include "core/flow/finish.h"
#include "core/flow/flow.h"
#include "core/formula/bind.h"
#include "core/formula/instance_formula.h"
#include "core/prepare/rail_plan.h"
#include "core/provide/store.h"
#include "core/symmetry/copies.h"

namespace gswarm {
namespace {

struct BuiltIn {
    const char *id, *label, *unit, *summary;
};
enum Which {
    numberOf,
    idOf,
    copyOf,
    shapeOf,
    shownOf,
    positionX,
    positionY,
    positionZ,
    rotationX,
    rotationY,
    rotationZ,
    scaleX,
    scaleY,
    scaleZ,
    red,
    green,
    blue,
    alpha,
    builtInCount
};
constexpr BuiltIn builtIn[builtInCount] = {
    {"number", "Number", "", "Order in the swarm, from 0"},
    {"id", "Id", "", "Stays the same when the count changes"},
    {"copy", "Copy", "", "Which one by symmetry; 0 is the original"},
    {"shape", "Shape", "", "What it repeats"},
    {"shown", "Shown", "", "Whether it is seen at this frame"},
    {"position_x", "Position X", "m", "In the world"},
    {"position_y", "Position Y", "m", "In the world"},
    {"position_z", "Position Z", "m", "In the world"},
    {"rotation_x", "Rotation X", "°", "Turns about X, then Y, then Z, in the world"},
    {"rotation_y", "Rotation Y", "°", "Turns about X, then Y, then Z, in the world"},
    {"rotation_z", "Rotation Z", "°", "Turns about X, then Y, then Z, in the world"},
    {"scale_x", "Scale X", "", "Of its shape"},
    {"scale_y", "Scale Y", "", "Of its shape"},
    {"scale_z", "Scale Z", "", "Of its shape"},
    {"red", "Red", "", "Encoded as on screen, 0 … 1"},
    {"green", "Green", "", "Encoded as on screen, 0 … 1"},
    {"blue", "Blue", "", "Encoded as on screen, 0 … 1"},
    {"alpha", "Opacity", "", "0 … 1"},
};

/// Where a column's numbers come from.
struct Reader {
    int built = -1;  ///< one of Which
    int named = -1;  ///< a column of the block
    int card = -1;   ///< whose weight
    float* to = nullptr;
};

Reader readerOf(const Plan& plan, const std::string& id) {
    Reader reader;
    for (int k = 0; k < builtInCount; ++k)
        if (id == builtIn[k].id) reader.built = k;
    for (std::size_t k = 0; k < plan.named.size(); ++k)
        if (toText(plan.named[k].first) == id) reader.named = static_cast<int>(k);
    for (std::size_t k = 0; k < plan.cards.size(); ++k)
        if (toText(plan.cards[k].entry) == id) reader.card = static_cast<int>(k);
    return reader;
}

bool isTurn(const Reader& reader) { return reader.built >= rotationX && reader.built <= rotationZ; }

/// The three turns belong together: they are worked out once for all their columns.
void takeTurns(const Plan& plan, const Block& block, const std::vector<Reader>& readers) {
    if (std::none_of(readers.begin(), readers.end(), isTurn)) return;
    for (int i = 0; i < block.count; ++i) {
        const glm::vec3 turns =
            degreesOf(plan.pose.rotation * glm::quat(block.rotation.w[i], block.rotation.x[i], block.rotation.y[i], block.rotation.z[i]));
        for (const Reader& reader : readers)
            if (isTurn(reader)) reader.to[block.first + i] = turns[reader.built - rotationX];
    }
}

/// One number of one instance as the block has it after the last card.
float builtInValue(const Plan& plan, const Block& block, int which, int i) {
    const Variant& variant = plan.stock.variants[block.variant[i]];
    const glm::vec3 place(block.position.x[i], block.position.y[i], block.position.z[i]);
    const glm::vec3 scale = glm::vec3(block.scale.x[i], block.scale.y[i], block.scale.z[i]) * (variant.size * plan.pose.scale);
    const auto encoded = [](float linear) { return static_cast<float>(srgbFromLinear(linear)); };
    switch (which) {
        case numberOf:
            return block.number[i];
        case copyOf:
            return 0;
        case shapeOf:
            return block.variant[i];
        case shownOf:
            return plan.shown && shownAt(plan, block, i) ? 1.0f : 0.0f;
        case positionX:
        case positionY:
        case positionZ:
            return plan.pose.toWorld(place)[which - positionX];
        case scaleX:
        case scaleY:
        case scaleZ:
            return scale[which - scaleX];
        case red:
            return encoded(block.colour.x[i]);
        case green:
            return encoded(block.colour.y[i]);
        case blue:
            return encoded(block.colour.z[i]);
        default:
            return block.colour.w[i];
    }
}

/// The same for a copy by symmetry.
float builtInValue(const Plan& plan, const Block& block, int which, int i, const CopyInWorld& copy) {
    const glm::vec3 place(block.position.x[i], block.position.y[i], block.position.z[i]);
    if (which >= positionX && which <= positionZ) return copy.place(place)[which - positionX];
    const float original = builtInValue(plan, block, which, i);
    return which >= scaleX && which <= scaleZ ? original / plan.pose.scale * copy.parts.scale[which - scaleX] : original;
}

/// All rows of a block whose instances are listed with their copies.
void takeCopies(const Plan& plan, const Block& block, const std::vector<Reader>& readers, const std::vector<CopyInWorld>& copies,
                Ledger& ledger) {
    for (int i = 0; i < block.count; ++i) {
        const std::size_t row = static_cast<std::size_t>(block.first + i) * (copies.size() + 1);
        std::fill_n(ledger.ids.begin() + static_cast<std::ptrdiff_t>(row), copies.size() + 1, idAt(block.home, i));
        const glm::quat turn(block.rotation.w[i], block.rotation.x[i], block.rotation.y[i], block.rotation.z[i]);
        for (const Reader& reader : readers) {
            if (!reader.to || reader.card >= 0) continue;
            float* to = reader.to + row;
            to[0] = reader.named >= 0 ? block.named[reader.named][i] : isTurn(reader) ? 0 : builtInValue(plan, block, reader.built, i);
            for (std::size_t k = 0; k < copies.size(); ++k)
                to[k + 1] = reader.named >= 0        ? to[0]
                            : reader.built == copyOf ? static_cast<float>(k + 1)
                            : isTurn(reader)         ? 0
                                                     : builtInValue(plan, block, reader.built, i, copies[k]);
        }
        if (std::none_of(readers.begin(), readers.end(), isTurn)) continue;
        for (std::size_t k = 0; k <= copies.size(); ++k) {
            const glm::vec3 turns = degreesOf(k == 0 ? plan.pose.rotation * turn : copies[k - 1].rotation(turn));
            for (const Reader& reader : readers)
                if (isTurn(reader)) reader.to[row + k] = turns[reader.built - rotationX];
        }
    }
}

void takeBlock(const Plan& plan, const Block& block, const std::vector<Reader>& readers, Ledger& ledger) {
    for (int i = 0; i < block.count; ++i)
        ledger.ids[static_cast<std::size_t>(block.first + i)] =
            static_cast<std::uint64_t>(block.home.idHigh[i]) << 32 | block.home.idLow[i];
    for (const Reader& reader : readers) {
        if (!reader.to || reader.card >= 0 || isTurn(reader)) continue;
        float* to = reader.to + block.first;
        if (reader.named >= 0)
            std::copy_n(block.named[reader.named], block.count, to);
        else
            for (int i = 0; i < block.count; ++i) to[i] = builtInValue(plan, block, reader.built, i);
    }
    takeTurns(plan, block, readers);
}

InstanceFormula filterOf(const Plan& plan, const Scene& scene, const std::string& text, Store& store, Progress& progress) {
    InstanceFormula filter;
    filter = boundCondition(scene, text);
    prepareCondition(filter, railSourceOf(scene, plan.swarm, plan.moment.frame, {}, store, progress));
    return filter;
}

void sortRows(const std::vector<float>& values, bool descending, std::vector<std::uint32_t>& rows) {
    // What is no number stands at the end either way; equal values keep the order of their numbers.
    const auto before = [&](std::uint32_t a, std::uint32_t b) {
        const float x = values[a], y = values[b];
        const bool xFine = !std::isnan(x), yFine = !std::isnan(y);
        if (xFine != yFine) return xFine;
        if (!xFine || x == y) return a < b;
        return descending ? x > y : x < y;
    };
    sortInParallel(rows, before);
}

std::string shortText(float value) {
    if (std::isnan(value)) return "not a valid number";
    if (std::isinf(value)) return value > 0 ? "infinite" : "−infinite";
    const bool large = std::abs(value) >= 1e6f;
    const float rounded = large ? value : std::round(value * 1000) / 1000;
    char text[32];
    const auto end = std::to_chars(text, text + sizeof text, rounded == 0 ? 0.0f : rounded, std::chars_format::fixed, large ? 0 : 3).ptr;
    return {text, end};
}

}  // namespace

std::vector<LedgerColumn> ledgerColumns(const Scene& scene, ObjectId swarm) {
    std::vector<LedgerColumn> columns;
    for (int k = 0; k < builtInCount; ++k)
        if (k != copyOf || !scene.at(swarm).list("symmetries").empty())
            columns.push_back({builtIn[k].id, builtIn[k].label, builtIn[k].unit, builtIn[k].summary});
    for (const ObjectId id : scene.at(swarm).list("namedValues"))
        columns.push_back({toText(id), scene.at(id).name, "", "A named value of the swarm"});
    for (const ObjectId id : scene.at(swarm).list("rail")) {
        columns.push_back({toText(id), "Weight of " + nameOfCard(scene, id), "", "How strongly the card acts on it"});
    }
    return columns;
}

std::vector<std::string> standardLedgerColumns(const Scene& scene, ObjectId swarm) {
    std::vector<std::string> columns = {"number",     "position_x", "position_y", "position_z", "rotation_x", "rotation_y",
                                        "rotation_z", "scale_x",    "scale_y",    "scale_z",    "shown"};
    for (const ObjectId id : scene.at(swarm).list("namedValues")) columns.push_back(toText(id));
    return columns;
}

std::string Ledger::text(std::size_t row, std::size_t column) const {
    const std::uint32_t instance = rows[row];
    const std::string& id = columns[column].id;
    if (id == "id") return std::to_string(ids[instance]);
    const float value = values[column][instance];
    if (id == "copy") return value > 0 ? std::to_string(static_cast<int>(value)) : "original";
    if (id == "number") return std::to_string(static_cast<int>(value));
    if (id == "shape") return shapes[static_cast<std::size_t>(value)];
    if (id == "shown") return value > 0 ? "yes" : "no";
    return shortText(value);
}

std::shared_ptr<const Ledger> readLedger(Evaluator& evaluator, const Plan& plan, const Scene& scene, const LedgerQuery& query,
                                         Progress& progress) {
    auto ledger = std::make_shared<Ledger>();
    ledger->swarm = plan.swarm;
    ledger->frame = plan.moment.frame;
    const auto copies = query.copies ? furtherCopies(plan.pose, plan.copies) : std::vector<CopyInWorld>{};
    const std::size_t times = copies.size() + 1;
    if (static_cast<double>(plan.count) * static_cast<double>(times) > mostLedgerRows)
        throw Error("With their copies these are " + grouped(static_cast<double>(plan.count) * static_cast<double>(times)) +
                    " rows, more than the limit of " + grouped(mostLedgerRows) + "; list them without.");
    ledger->count = plan.count * static_cast<int>(times);
    ledger->copies = static_cast<int>(times);
    for (const Variant& variant : plan.stock.variants) ledger->shapes.push_back(scene.at(variant.shape).name);
    for (const LedgerColumn& column : ledgerColumns(scene, plan.swarm))
        if (std::find(query.columns.begin(), query.columns.end(), column.id) != query.columns.end() ||
            (!copies.empty() && column.id == builtIn[copyOf].id))
            ledger->columns.push_back(column);
    const auto count = static_cast<std::size_t>(ledger->count);
    ledger->ids.resize(count);
    ledger->values.resize(ledger->columns.size());
    std::vector<Reader> readers;
    for (std::size_t c = 0; c < ledger->columns.size(); ++c) {
        readers.push_back(readerOf(plan, ledger->columns[c].id));
        if (readers.back().built == idOf) continue;
        ledger->values[c].resize(count);
        readers.back().to = ledger->values[c].data();
    }
    // A column that is sorted by need not be shown.
    std::vector<float> order;
    if (!query.sortBy.empty() && query.sortBy != "id") {
        order.resize(count);
        readers.push_back(readerOf(plan, query.sortBy));
        readers.back().to = order.data();
    }
    std::vector<unsigned char> listed;
    InstanceFormula filter;
    if (!query.filter.empty()) {
        filter = filterOf(plan, scene, query.filter, evaluator.store(), progress);
        listed.resize(count);
    }
    const AfterCard keepWeight = [&](int card, const Block& block) {
        for (const Reader& reader : readers)
            if (reader.card >= 0 && reader.card == card)
                for (int i = 0; i < block.count; ++i)
                    std::fill_n(reader.to + static_cast<std::size_t>(block.first + i) * times, times, block.weight[i]);
    };
    evaluator.forBlocks(plan, progress, &keepWeight, [&](Block& block) {
        if (copies.empty())
            takeBlock(plan, block, readers, *ledger);
        else
            takeCopies(plan, block, readers, copies, *ledger);
        if (listed.empty()) return;
        runFormula(filter, block, plan.moment, {}, block.scratch[0]);
        for (int i = 0; i < block.count; ++i)
            std::fill_n(listed.begin() + static_cast<std::ptrdiff_t>(static_cast<std::size_t>(block.first + i) * times), times,
                        block.scratch[0][i] != 0);
    });
    for (std::uint32_t i = 0; i < count; ++i)
        if (listed.empty() || listed[i]) ledger->rows.push_back(i);
    if (!order.empty()) sortRows(order, query.descending, ledger->rows);
    if (query.sortBy == "id") {
        const auto& ids = ledger->ids;
        sortInParallel(ledger->rows,
                       [&](std::uint32_t a, std::uint32_t b) { return query.descending ? ids[a] > ids[b] : ids[a] < ids[b]; });
    }
    return ledger;
}

std::string tabbedText(const Ledger& ledger, const std::vector<std::uint32_t>& rows, std::size_t most) {
    std::string text;
    for (std::size_t c = 0; c < ledger.columns.size(); ++c) text += (c ? "\t" : "") + ledger.columns[c].label;
    text += '\n';
    for (std::size_t r = 0; r < std::min(rows.size(), most); ++r) {
        for (std::size_t c = 0; c < ledger.columns.size(); ++c) text += (c ? "\t" : "") + ledger.text(rows[r], c);
        text += '\n';
    }
    return text;
}

}  // namespace gswarm
