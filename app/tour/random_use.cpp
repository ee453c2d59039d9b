#include "app/tour/random_use.h"

#include <QApplication>
#include <QFileDialog>
#include <QPointer>
#include <QTest>
#include <QTimer>

#include "app/document/document.h"
#include "app/fields/number_field.h"
#include "app/window/main_window.h"
#include "core/base/error.h"
#include "core/edit/edit.h"
#include "core/file/project_file.h"
#include "core/kinds/registry.h"

using namespace gswarm;

namespace {

constexpr int deepest = 4;  // menus and dialogs inside one another, before they are left again

const QStringList& keys() {
    static const QStringList all = {"Esc",
                                    "Tab",
                                    "Return",
                                    "Space",
                                    "K",
                                    "W",
                                    "N",
                                    "G",
                                    "L",
                                    "A",
                                    "C",
                                    "R",
                                    "S",
                                    "1",
                                    "2",
                                    "3",
                                    "F",
                                    "V",
                                    "Del",
                                    "Up",
                                    "Down",
                                    "Left",
                                    "Right",
                                    "Home",
                                    "End",
                                    ",",
                                    ".",
                                    "Ctrl+Z",
                                    "Ctrl+Z",
                                    "Ctrl+Z",
                                    "Ctrl+Z",
                                    "Ctrl+Shift+Z",
                                    "Ctrl+Shift+Z",
                                    "Ctrl+G",
                                    "Ctrl+F",
                                    "Ctrl+K",
                                    "Ctrl+A",
                                    "Ctrl+C",
                                    "Ctrl+V",
                                    "Ctrl+Backspace",
                                    "Shift+C",
                                    "Ctrl+Shift+V",
                                    "Ctrl+Shift+K",
                                    "Ctrl+Shift+N",
                                    "Shift+Tab",
                                    "PgUp",
                                    "PgDown",
                                    "F2",
                                    "Backspace"};
    return all;
}
const QStringList& texts() {
    static const QStringList all = {"0",      "1",       "-3",   "1e9",       "12f",           "0.5s", "1/0",
                                    "100000", "3 turns", "nan",  "1/4 turns", "9999999999999", "50cm", "=sin(t)",
                                    "=i/0",   "Swell",   "Reef", "0.5",       "-0.001",        "((",   "=frame*2"};
    return all;
}

}  // namespace

namespace {

// What is pressed may be gone when it is let go: pressing may open a menu in which other things are done.

void pressAndLetGo(QPointer<QWidget> widget, QPoint at, Qt::MouseButton button) {
    QTest::mousePress(widget, button, {}, at);
    if (widget) QTest::mouseRelease(widget, button, {}, at);
}

void typeKey(QPointer<QWidget> widget, Qt::Key key, Qt::KeyboardModifiers modifiers) {
    QTest::keyPress(widget, key, modifiers);
    if (widget) QTest::keyRelease(widget, key, modifiers);
}

void typeCharacter(QPointer<QWidget> widget, char character) {
    QTest::keyPress(widget, character);
    if (widget) QTest::keyRelease(widget, character);
}

}  // namespace

RandomUse::RandomUse(MainWindow& window, unsigned seed, const QString& copy)
    : window_(window), dice_(seed), copy_(copy), first_(window.document().scene()) {
    qApp->installEventFilter(this);
    connect(&window_.document(), &Document::fileChanged, this, [this] {
        const auto& history = window_.document().history();
        if (!history.canUndo() && !history.canRedo()) first_ = window_.document().scene();
    });
}

bool RandomUse::eventFilter(QObject* watched, QEvent* event) {
    auto* dialog = event->type() == QEvent::Show ? qobject_cast<QFileDialog*>(watched) : nullptr;
    if (dialog) {
        dialog->setEnabled(false);
        dialog->setOption(QFileDialog::ReadOnly);
        QTimer::singleShot(0, dialog, &QDialog::reject);
    }
    return QObject::eventFilter(watched, event);
}

void RandomUse::replay(const QStringList& lines) {
    replaying_ = true;
    lines_.assign(lines.begin(), lines.end());
}

void RandomUse::start(int actions) {
    left_ = replaying_ ? static_cast<int>(lines_.size()) : actions;
    soon();
}

/// A timer of its own each time: one whose call has opened a menu would not fire again inside it.
void RandomUse::soon() { QTimer::singleShot(1, this, &RandomUse::act); }

/// What takes mouse and keyboard now: a menu, a dialog, or the window.
QWidget* RandomUse::surface() const {
    if (QWidget* popup = QApplication::activePopupWidget()) return popup;
    if (QWidget* dialog = QApplication::activeModalWidget()) return dialog;
    return &window_;
}

QPoint RandomUse::somewhere() {
    QWidget* on = surface();
    // Half of the time the middle of something that can be used, so that small things are met too.
    if (below(2) == 0) {
        QList<QWidget*> parts;
        for (QWidget* part : on->findChildren<QWidget*>())
            if (part->isVisible() && part->isEnabled() && part->focusPolicy() != Qt::NoFocus) parts << part;
        if (!parts.isEmpty()) {
            QWidget* part = parts[below(static_cast<int>(parts.size()))];
            return part->mapTo(on, QPoint(below(std::max(part->width(), 1)), below(std::max(part->height(), 1))));
        }
    }
    return {below(std::max(on->width(), 1)), below(std::max(on->height(), 1))};
}

QString RandomUse::next() {
    if (replaying_) {
        const QString line = lines_.front();
        lines_.pop_front();
        return line;
    }
    if (depth_ > deepest) return "key Esc";
    const QPoint at = somewhere();
    const QString place = QString("%1 %2").arg(at.x()).arg(at.y());
    switch (const int r = below(100); r) {
        default:
            if (r < 38) return "click " + place + (below(5) ? " left" : " right");
            if (r < 43) return "twice " + place;
            if (r < 50) return QString("drag %1 %2 %3").arg(place).arg(below(400) - 200).arg(below(240) - 120);
            if (r < 53) return QString("wheel %1 %2").arg(place).arg(below(2) ? 120 : -120);
            if (r < 78) return "key " + keys()[below(static_cast<int>(keys().size()))];
            if (r < 90) return "type " + texts()[below(static_cast<int>(texts().size()))];
            return QString("edit %1").arg(static_cast<unsigned>(dice_() % 1'000'000));
    }
}

void RandomUse::act() {
    // An action may open a menu or a dialog that only comes back once it is closed: the next ones are done inside it.
    if (left_ <= 0) {
        if (depth_ > 0) {
            if (QWidget* popup = surface(); popup != &window_) popup->close();
            typeKey(surface(), Qt::Key_Escape, {});
            return soon();
        }
        saveAndCompare();
        undoAll();
        emit finished();
        return;
    }
    soon();
    --left_;
    const QString line = next();
    done_ << line;
    ++depth_;
    perform(line);
    --depth_;
    Document& document = window_.document();
    // Only the copy is ever written to.
    const bool elsewhere = !document.path().empty() && QString::fromStdString(document.path().string()) != copy_;
    if (elsewhere && depth_ == 0) document.adopt(document.scene(), copy_.toStdString());
    if (done_.size() % 200 == 0 && depth_ == 0) saveAndCompare();
}

void RandomUse::click(QWidget* target, QPoint at, Qt::MouseButton button, bool twice) {
    QWidget* child = target->childAt(at);
    const QPointer<QWidget> widget = child ? child : target;
    const QPoint inside = widget->mapFrom(target, at);
    pressAndLetGo(widget, inside, button);
    if (!twice || !widget) return;
    QMouseEvent second(QEvent::MouseButtonDblClick, QPointF(inside), widget->mapToGlobal(QPointF(inside)), button, button, {});
    QApplication::sendEvent(widget, &second);
    if (widget) QTest::mouseRelease(widget, button, {}, inside);
}

void RandomUse::perform(const QString& line) {
    const QStringList words = line.split(' ');
    QWidget* on = surface();
    const auto place = [&] { return QPoint(words.value(1).toInt(), words.value(2).toInt()); };
    if (words[0] == "click") {
        click(on, place(), words.value(3) == "right" ? Qt::RightButton : Qt::LeftButton, false);
    } else if (words[0] == "twice") {
        click(on, place(), Qt::LeftButton, true);
    } else if (words[0] == "drag") {
        QPointer<QWidget> widget = on->childAt(place());
        if (!widget) return;
        const QPoint from = widget->mapFrom(on, place()), gone(words.value(3).toInt(), words.value(4).toInt());
        QTest::mousePress(widget, Qt::LeftButton, {}, from);
        for (int k = 1; k <= 3 && widget; ++k) {
            QMouseEvent move(QEvent::MouseMove, QPointF(from + gone * k / 3), widget->mapToGlobal(QPointF(from + gone * k / 3)),
                             Qt::NoButton, Qt::LeftButton, {});
            QApplication::sendEvent(widget, &move);
        }
        if (widget) QTest::mouseRelease(widget, Qt::LeftButton, {}, from + gone);
    } else if (words[0] == "wheel") {
        QWidget* widget = on->childAt(place());
        if (!widget) return;
        const QPointF at(widget->mapFrom(on, place()));
        QWheelEvent event(at, widget->mapToGlobal(at), {}, QPoint(0, words.value(3).toInt()), Qt::NoButton, {}, Qt::NoScrollPhase, false);
        QApplication::sendEvent(widget, &event);
    } else if (words[0] == "key") {
        const QKeySequence sequence(words.value(1));
        if (sequence.isEmpty()) return;
        QWidget* focused = on->focusWidget() ? on->focusWidget() : on;
        typeKey(focused, sequence[0].key(), sequence[0].keyboardModifiers());
    } else if (words[0] == "type") {
        QWidget* focused = on->focusWidget() ? on->focusWidget() : on;
        QPointer<QWidget> still = focused;
        for (const QChar c : line.mid(5)) {
            if (!still) return;
            QWidget* takes = on->focusWidget() ? on->focusWidget() : still.data();
            typeCharacter(takes, c.toLatin1());
        }
        if (QWidget* takes = surface()->focusWidget()) typeKey(takes, Qt::Key_Return, {});
    } else if (words[0] == "edit") {
        edit(words.value(1).toInt());
    }
}

/// What comes from elsewhere than the panel that shows it: another kind in a slot, a thing deleted, undo, redo, a choice.
void RandomUse::edit(int which) {
    Document& document = window_.document();
    const Scene& scene = document.scene();
    auto chosen = document.chosen();
    const int turn = which / 8;
    std::vector<ObjectId> all;
    for (const auto& [id, object] : scene.objects) all.push_back(id);
    const ObjectId any = all[static_cast<std::size_t>(turn) % all.size()];
    if (!chosen || !scene.find(chosen)) chosen = any;
    switch (which % 8) {
        case 0:
        case 1: {
            const ObjectId id = which % 8 ? chosen : any;
            const auto& infos = classOf(id.type()).slotInfos;
            if (infos.empty()) return;  // a group is made of nothing
            const SlotInfo& slot = infos[static_cast<std::size_t>(turn) % infos.size()];
            if (slot.only) return;
            const auto& kinds = kindsOf(slot.family);
            document.edit(
                [&](const Scene& s) { return setKind(s, id, slot.id, *kinds[static_cast<std::size_t>(turn / 7) % kinds.size()]); });
            return;
        }
        case 2:
            // Not everything at once, so that something stays to be used.
            if (scene.objects.size() > 30) document.edit([&](const Scene& s) { return remove(s, turn % 3 ? any : chosen); });
            return;
        case 3:
            return document.undo();
        case 4:
            return document.redo();
        case 5:
            document.choose(any);
            return;
        case 6:
            document.setFrame(turn % 150);
            return;
        default:
            for (int k = 0; k < turn % 12; ++k) document.undo();
    }
}

void RandomUse::saveAndCompare() {
    Document& document = window_.document();
    ++saves_;
    if (!document.save(copy_.toStdString())) {
        problems_ << QString("after %1 actions the project could not be saved").arg(done_.size());
        return;
    }
    try {
        if (!(loadProject(copy_.toStdString()) == document.scene()))
            problems_ << QString("after %1 actions the project opens as another").arg(done_.size());
    } catch (const Error& error) {
        problems_ << QString("after %1 actions the project does not open: %2").arg(done_.size()).arg(error.what());
    }
}

void RandomUse::undoAll() {
    Document& document = window_.document();
    while (document.history().canUndo()) document.undo();
    if (toJson(document.scene()) != toJson(first_)) problems_ << "undoing everything does not come back to the first scene";
}
