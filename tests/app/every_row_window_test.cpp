// Every row of the settings, for every kind there is: it shows what the scene holds, and what is typed or clicked there is
// what the scene holds afterwards.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <QComboBox>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QTest>

#include "app/fields/number_field.h"
#include "app/fields/points_field.h"
#include "app/fields/ramp_field.h"
#include "app/fields/switch.h"
#include "app/settings/parameter_row.h"
#include "app/settings/settings.h"
#include "core/base/css_colour.h"
#include "core/edit/edit.h"
#include "core/kinds/registry.h"
#include "core/resolve/resolve.h"
#include "tests/app/hand.h"

using namespace gswarm;

namespace {

struct EveryRow {
    Hand hand;
    int checked = 0, changed = 0;
    std::map<ParameterType, int> typed;  ///< of those that are neither choice nor switch nor plain number

    Document& document() { return hand.window().document(); }
    const Scene& scene() { return hand.scene(); }

    std::vector<ParameterRow*> rows() {
        std::vector<ParameterRow*> out;
        for (auto* row : hand.window().settings().findChildren<ParameterRow*>())
            if (row->isVisible()) out.push_back(row);
        return out;
    }
    ParameterRow* rowOf(const Address& address) {
        for (ParameterRow* row : rows())
            if (row->address() == address) return row;
        return nullptr;
    }
    std::string named(const Address& a) { return toText(scene(), a) + " (" + parameterAt(scene(), a).label + ")"; }

    template <class T>
    T* only(ParameterRow* row) {
        for (T* found : row->findChildren<T*>())
            if (found->isVisible()) return found;
        return nullptr;
    }

    /// What the row shows against what the scene holds.
    void shows(ParameterRow* row) {
        const Address a = row->address();
        const Parameter& p = parameterAt(scene(), a);
        const Value& value = valueOf(scene(), a);
        const Part& part = scene().at(a.object).parts[static_cast<std::size_t>(a.slot)];
        SCOPED_TRACE(named(a));
        ++checked;
        if (p.type == ParameterType::choice) {
            ASSERT_NE(only<QComboBox>(row), nullptr);
            EXPECT_EQ(only<QComboBox>(row)->currentData().toString().toStdString(), std::get<std::string>(value));
            EXPECT_FALSE(only<QComboBox>(row)->currentText().isEmpty());
        } else if (p.type == ParameterType::toggle) {
            ASSERT_NE(only<Switch>(row), nullptr);
            EXPECT_EQ(only<Switch>(row)->isChecked(), switchAt(scene(), part, p.id, document().frame()));
        } else if (p.type == ParameterType::reference) {
            const Object* object = scene().find(std::get<ObjectId>(value));
            const auto* box = only<QComboBox>(row);
            const auto* slot = only<QPushButton>(row);
            ASSERT_TRUE(box || slot);
            const std::string text = (box ? box->currentText() : slot->text()).toStdString();
            const bool doesWithout = p.optional || !p.begins.empty();
            const bool none = doesWithout ? text == "none" : text == "choose one" || text == "A new named value";
            EXPECT_TRUE(object ? text.ends_with(object->name) : none) << text;
        } else if (p.type == ParameterType::formula) {
            ASSERT_NE(only<QPlainTextEdit>(row), nullptr);
            EXPECT_EQ(only<QPlainTextEdit>(row)->toPlainText().toStdString(), std::get<Formula>(value).text);
        } else if (p.type == ParameterType::colour) {
            ASSERT_NE(only<QLineEdit>(row), nullptr);
            const auto& numbers = std::get<Numbers>(value);
            const auto shown = cssColour(only<QLineEdit>(row)->text().toStdString());
            ASSERT_TRUE(shown) << only<QLineEdit>(row)->text().toStdString();
            for (int c = 0; c < 4; ++c) EXPECT_NEAR((*shown)[c], numbers[static_cast<std::size_t>(c)].value, 0.5 / 255 + 1e-6);
        } else if (p.type == ParameterType::text || p.type == ParameterType::file) {
            const QString text = p.lines ? only<QPlainTextEdit>(row)->toPlainText() : only<QLineEdit>(row)->text();
            EXPECT_EQ(text.toStdString(), std::get<std::string>(value));
        } else if (p.numeric()) {
            const auto& numbers = std::get<Numbers>(value);
            std::size_t c = 0;
            for (auto* field : row->findChildren<NumberField*>()) {
                if (!field->isVisible()) continue;
                ASSERT_LT(c, numbers.size());
                EXPECT_EQ(field->value(), valueAt(scene(), numbers[c], document().frame()));
                ++c;
            }
            EXPECT_EQ(c, numbers.size());
        }
    }
    void allShow() {
        for (ParameterRow* row : rows()) shows(row);
    }

    /// Changes it by keys, looks whether the scene holds that, and takes it back.
    void change(const Address& address) {
        ParameterRow* row = rowOf(address);
        ASSERT_NE(row, nullptr);
        const Parameter p = parameterAt(scene(), address);
        SCOPED_TRACE(named(address));
        const Scene before = scene();
        if (p.type == ParameterType::choice) {
            auto* box = only<QComboBox>(row);
            const int at = box->currentIndex(), to = at + 1 < box->count() ? at + 1 : at - 1;
            const std::string wanted = box->itemData(to).toString().toStdString();
            box->setFocus();
            QTest::keyClick(box, to > at ? Qt::Key_Down : Qt::Key_Up);
            EXPECT_EQ(std::get<std::string>(valueOf(scene(), address)), wanted);
        } else if (p.type == ParameterType::toggle) {
            const bool was = only<Switch>(row)->isChecked();
            only<Switch>(row)->setFocus();
            QTest::keyClick(only<Switch>(row), Qt::Key_Return);
            EXPECT_NE(switchOf(scene().at(address.object).parts[static_cast<std::size_t>(address.slot)], p.id), was);
        } else if (p.numeric() && p.type != ParameterType::colour) {
            auto fields = row->findChildren<NumberField*>();
            for (std::size_t c = 0; c < static_cast<std::size_t>(p.components); ++c) {
                // Somewhere in the suggested range where it is not now; counts stay small.
                const double span = p.suggested.high - p.suggested.low;
                double wanted = p.suggested.low + (p.type == ParameterType::whole ? std::min(span, 5.0) : span) * (0.3 + 0.1 * double(c));
                wanted = p.type == ParameterType::whole ? std::round(wanted) : std::round(wanted * 100) / 100;
                fields[static_cast<int>(c)]->setFocus();
                QTest::keyClick(fields[static_cast<int>(c)], Qt::Key_Return);
                auto* editor = fields[static_cast<int>(c)]->findChild<QLineEdit*>();
                editor->selectAll();
                QTest::keyClicks(editor, QString::number(wanted, 'f', p.type == ParameterType::whole ? 0 : 2));
                QTest::keyClick(editor, Qt::Key_Return);
                EXPECT_NEAR(std::get<Numbers>(valueOf(scene(), address))[c].value, wanted, 1e-9);
                row = rowOf(address);
                if (!row) break;  // it means nothing any more at this value
                fields = row->findChildren<NumberField*>();
            }
        } else if (!changeOther(row, p, address)) {
            return;
        }
        ++changed;
        allShow();
        for (int steps = 0; !(scene() == before) && steps < 6; ++steps) document().undo();
        EXPECT_TRUE(scene() == before);
        QCoreApplication::processEvents();
    }

    void typeInto(QWidget* widget, const QString& text) {
        widget->setFocus();
        QTest::keyClick(widget, Qt::Key_A, Qt::ControlModifier);
        QTest::keyClicks(widget, text);
    }

    /// Whatever is no choice, switch or plain number. False where nothing of that kind can be typed here.
    bool changeOther(ParameterRow* row, const Parameter& p, const Address& address) {
        const auto now = [&]() -> const Value& { return valueOf(scene(), address); };
        if (p.type == ParameterType::colour) {
            typeInto(only<QLineEdit>(row), "#336699");
            QTest::keyClick(only<QLineEdit>(row), Qt::Key_Return);
            EXPECT_NEAR(std::get<Numbers>(now())[1].value, 0x66 / 255.0, 1e-4);
        } else if (p.type == ParameterType::formula) {
            typeInto(only<QPlainTextEdit>(row), "0.25");
            EXPECT_EQ(std::get<Formula>(now()).text, "0.25");
        } else if (p.type == ParameterType::text && p.lines) {
            typeInto(only<QPlainTextEdit>(row), "Two words");
            EXPECT_EQ(std::get<std::string>(now()), "Two words");
        } else if ((p.type == ParameterType::text && p.id != "rate") || p.type == ParameterType::file) {  // a rate asks what stays
            typeInto(only<QLineEdit>(row), "another");
            QTest::keyClick(only<QLineEdit>(row), Qt::Key_Return);
            EXPECT_EQ(std::get<std::string>(now()), "another");
        } else if (p.type == ParameterType::ramp) {
            const std::size_t stops = std::get<Ramp>(now()).size();
            auto* field = only<RampField>(row);
            QTest::mouseDClick(field, Qt::LeftButton, {}, QPoint(field->width() / 3, 8));
            EXPECT_EQ(std::get<Ramp>(now()).size(), stops + 1);
        } else if (p.type == ParameterType::points) {
            auto* field = only<PointsField>(row)->findChildren<NumberField*>().at(1);
            field->setFocus();
            QTest::keyClick(field, Qt::Key_Return);
            typeInto(field->findChild<QLineEdit*>(), "1.25");
            QTest::keyClick(field->findChild<QLineEdit*>(), Qt::Key_Return);
            EXPECT_EQ(std::get<Points>(now())[0][1], 1.25);
        } else if (p.type == ParameterType::reference) {
            auto* box = only<QComboBox>(row);
            if (!box || box->count() < 2 || box->currentIndex() < 0) return false;
            const int to = box->currentIndex() + 1 < box->count() ? box->currentIndex() + 1 : box->currentIndex() - 1;
            if (box->itemData(to).toString() == "new") return false;  // its own test makes one
            box->setFocus();
            QTest::keyClick(box, to > box->currentIndex() ? Qt::Key_Down : Qt::Key_Up);
            EXPECT_EQ(toText(std::get<ObjectId>(now())), box->itemData(to).toString().toStdString());
        } else {
            return false;
        }
        ++typed[p.type];
        return true;
    }

    void everything() {
        hand.settle();
        allShow();
        std::vector<Address> addresses;
        for (ParameterRow* row : rows()) addresses.push_back(row->address());
        for (const Address& address : addresses) change(address);
    }
    /// Chooses every kind of a family for a slot of what is chosen.
    void everyKind(Family family, const std::string& slot) {
        const ObjectId object = document().chosen();
        for (const Kind* kind : kindsOf(family)) {
            SCOPED_TRACE(kind->id);
            hand.settle();
            hand.choose(QString::fromStdString("kind-" + slot), QString::fromStdString(kind->label));
            ASSERT_EQ(scene().at(object).part(slot).kind, kind);
            everything();
        }
    }
};

}  // namespace

TEST(EveryRow, OfEveryGesture) {
    EveryRow t;
    t.hand.click("newSwarm");
    t.hand.addGesture("rise");
    for (const char* channel : {"rotation", "scale", "colour", "shape", "showing", "time", "value"})
        t.hand.click(QString("channel-%1").arg(channel));
    t.everything();
    t.everyKind(Family::gesture, "change");
    EXPECT_GT(t.checked, 300);
    EXPECT_GT(t.changed, 100);
    EXPECT_GT(t.typed[ParameterType::colour], 0);
}

TEST(EveryRow, OfEveryPattern) {
    EveryRow t;
    t.hand.click("newSwarm");
    t.hand.addGesture("rise");
    t.everyKind(Family::pattern, "pattern");
    EXPECT_GT(t.changed, 60);
    EXPECT_GT(t.typed[ParameterType::formula], 0);
}

TEST(EveryRow, OfEveryZone) {
    EveryRow t;
    t.hand.click("newSwarm");
    t.hand.addGesture("rise");
    t.hand.click("addZone-ball");
    t.document().choose(t.scene().all(ObjectType::zone).front());
    t.everyKind(Family::zone, "form");
    EXPECT_GT(t.changed, 60);
}

TEST(EveryRow, OfEveryFormation) {
    EveryRow t;
    t.hand.click("newSwarm");
    const ObjectId formation = t.scene().at(t.document().swarm()).list("formations").front();
    for (const Kind* kind : kindsOf(Family::formation)) {
        SCOPED_TRACE(kind->id);
        t.hand.pickFormation(QString::fromStdString(kind->id));
        ASSERT_EQ(t.scene().at(formation).part("formation").kind, kind);
        t.everything();
    }
    EXPECT_GT(t.changed, 100);
}

TEST(EveryRow, OfEverySymmetry) {
    EveryRow t;
    t.hand.click("newSwarm");
    t.hand.click("addGesture");
    t.hand.click("symmetry-mirrored");
    t.everyKind(Family::symmetry, "symmetry");
    EXPECT_GE(t.changed, 15);  // six rows of a mirror, nine of turns
}

TEST(EveryRow, OfAllMedia) {
    EveryRow t;
    t.hand.click("newSwarm");
    t.document().choose(t.document().edit([](const Scene& s) { return addMedia(s, *kindsOf(Family::media).front()); }));
    t.everyKind(Family::media, "media");
    EXPECT_GE(t.changed, 11);  // two rows of a picture, five of numbered ones, five of a camera; a file may be typed wrongly
}

TEST(EveryRow, OfEveryShape) {
    EveryRow t;
    t.hand.click("newSwarm");
    t.document().choose(t.scene().all(ObjectType::shape).front());
    t.everyKind(Family::shape, "maker");
    EXPECT_GT(t.changed, 60);
    for (const ParameterType type : {ParameterType::text, ParameterType::file, ParameterType::points}) EXPECT_GT(t.typed[type], 0);
}

TEST(EveryRow, OfLightsCamerasMountsAndTheProject) {
    EveryRow t;
    t.hand.click("newSwarm");
    t.document().edit(addMount);
    for (const ObjectType type : {ObjectType::light, ObjectType::camera, ObjectType::mount, ObjectType::project, ObjectType::swarm}) {
        t.document().choose(t.scene().all(type).front());
        t.everything();
    }
    EXPECT_GT(t.changed, 30);
}

TEST(EveryRow, OfARampAndOfThingsThatAreReferredTo) {
    EveryRow t;
    t.hand.click("newSwarm");
    t.hand.key(Qt::Key_N, Qt::ControlModifier | Qt::ShiftModifier);
    t.hand.addGesture("gild");
    t.everything();
    EXPECT_GT(t.typed[ParameterType::ramp], 0);
    t.document().edit([&](const Scene& s) { return addFormationVersion(s, t.document().swarm()); });
    t.hand.addGesture("travel");
    t.everything();
    EXPECT_GT(t.typed[ParameterType::reference], 0);
}
