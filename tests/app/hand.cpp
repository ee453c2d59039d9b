#include "tests/app/hand.h"

#include <gtest/gtest.h>

#include <QComboBox>
#include <QDropEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QMimeData>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QTest>
#include <QTimer>
#include <QUrl>

#include "app/fields/drop_target.h"
#include "app/fields/number_field.h"
#include "app/rail/rail_card.h"
#include "app/tour/tour.h"

Hand::Hand() : window_(std::make_unique<MainWindow>()) {
    window_->resize(1280, 800);
    window_->show();
    EXPECT_TRUE(QTest::qWaitForWindowExposed(window_.get()));
    QApplication::setActiveWindow(window_.get());  // there is no window manager to do it
    settle();
}
Hand::~Hand() = default;

void Hand::settle() { ASSERT_TRUE(tour::settle(*window_)); }

bool Hand::eventually(const std::function<bool()>& is) { return QTest::qWaitFor(is, 10000); }

void Hand::click(QWidget* widget, QPoint at, Qt::MouseButton button) {
    QTest::mouseClick(widget, button, {}, at);
    settle();
}

void Hand::click(const QString& name) {
    auto* widget = find<QWidget>(name);
    ASSERT_NE(widget, nullptr) << name.toStdString();
    for (QWidget* up = widget->parentWidget(); up; up = up->parentWidget())
        if (auto* area = qobject_cast<QScrollArea*>(up)) area->ensureWidgetVisible(widget);
    click(widget, widget->rect().center());
}

bool Hand::drop(const QMimeData& data, QWidget* onto, QPointF at) {
    QDragEnterEvent enter(at.toPoint(), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    enter.ignore();
    QApplication::sendEvent(onto, &enter);
    if (!enter.isAccepted()) return false;
    QDropEvent end(at, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(onto, &end);
    settle();
    return true;
}

bool Hand::drop(const std::vector<gswarm::ObjectId>& things, QWidget* onto, QPointF at) {
    return drop(*std::unique_ptr<QMimeData>(carrying(things)), onto, at);
}

bool Hand::dropFiles(const QStringList& files, QWidget* onto, QPointF at) {
    QMimeData data;
    QList<QUrl> urls;
    for (const QString& file : files) urls << QUrl::fromLocalFile(file);
    data.setUrls(urls);
    return drop(data, onto, at);
}

void Hand::key(int key, Qt::KeyboardModifiers modifiers) {
    if (!QApplication::activePopupWidget()) QApplication::setActiveWindow(window_.get());
    QWidget* target = QApplication::activePopupWidget() ? QApplication::activePopupWidget()->focusWidget() : window_->focusWidget();
    QTest::keyClick(target ? target : window_.get(), static_cast<Qt::Key>(key), modifiers);
    settle();
}

NumberField* Hand::field(const QString& row, int component) {
    auto* widget = find<QWidget>(row);
    if (!widget) return nullptr;
    if (auto* itself = qobject_cast<NumberField*>(widget)) return itself;
    const auto fields = widget->findChildren<NumberField*>();
    return component < fields.size() ? fields[component] : nullptr;
}

void Hand::typeNumber(const QString& row, const QString& text, int component) {
    NumberField* number = field(row, component);
    ASSERT_NE(number, nullptr) << row.toStdString();
    QTest::mouseClick(number, Qt::LeftButton, {}, QPoint(number->width() - 10, 12));
    auto* editor = number->findChild<QLineEdit*>();
    ASSERT_TRUE(editor->isVisible());
    QTest::keyClick(editor, Qt::Key_A, Qt::ControlModifier);
    QTest::keyClicks(editor, text);
    QTest::keyClick(editor, Qt::Key_Return);
    settle();
}

void Hand::typeFormula(QPlainTextEdit* editor, const QString& text) {
    editor->setFocus();
    editor->selectAll();
    QTest::keyClicks(editor, text);
    QTest::keyClick(editor, Qt::Key_Escape);
    settle();
}

void Hand::choose(const QString& name, const QString& label) {
    auto* box = find<QComboBox>(name);
    if (!box && find<QWidget>(name)) box = find<QWidget>(name)->findChild<QComboBox*>();
    ASSERT_NE(box, nullptr) << name.toStdString();
    box->setFocus();
    const int steps = box->findText(label) - box->currentIndex();
    ASSERT_GE(box->findText(label), 0) << label.toStdString();
    for (int step = 0; step < std::abs(steps); ++step) {
        QTest::keyClick(box, steps > 0 ? Qt::Key_Down : Qt::Key_Up);
        settle();
        // The row, or what it offers, may have been made anew by the choice.
        box = find<QComboBox>(name) ? find<QComboBox>(name) : find<QWidget>(name)->findChild<QComboBox*>();
    }
}

void Hand::pickFormation(const QString& id) {
    click("pickFormation");
    auto* sketch = window_->findChild<QPushButton*>("formation-" + id);
    ASSERT_NE(sketch, nullptr) << id.toStdString();
    ASSERT_TRUE(sketch->isVisible());
    QTest::mouseClick(sketch, Qt::LeftButton);
    settle();
}

void Hand::addGesture(const QString& id) {
    click("addGesture");
    auto* sample = window_->findChild<QPushButton*>("gesture-" + id);
    ASSERT_NE(sample, nullptr) << id.toStdString();
    QTest::mouseClick(sample, Qt::LeftButton);
    settle();
}

namespace {

/// A busy machine may take long until the menu is there.
constexpr int mostWaits = 60;

void answerWhenThere(const QString& start, int patience, int waited) {
    QTimer::singleShot(150, [=] {
        auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
        if (!menu && waited < mostWaits) return answerWhenThere(start, patience, waited + 1);
        ASSERT_NE(menu, nullptr);
        const QString here = start.section(" > ", 0, 0), deeper = start.section(" > ", 1);
        for (QAction* action : menu->actions())
            if (action->isEnabled() && action->text().startsWith(here)) {
                menu->setActiveAction(action);
                if (!deeper.isEmpty()) answerWhenThere(deeper, patience, 0);
                QTest::keyClick(menu, deeper.isEmpty() ? Qt::Key_Return : Qt::Key_Right);
                return;
            }
        if (patience > 0) return answerWhenThere(start, patience - 1, waited);
        menu->close();
        FAIL() << "no entry " << start.toStdString();
    });
}

}  // namespace

void Hand::answerMenu(const QString& start, int patience) { answerWhenThere(start, patience, 0); }

void Hand::drag(QWidget* widget, QPointF from, QPointF gone, Qt::MouseButton button, Qt::KeyboardModifiers modifiers) {
    const auto send = [&](QEvent::Type type, QPointF at, Qt::MouseButton which, Qt::MouseButtons held) {
        QMouseEvent event(type, at, widget->mapToGlobal(at), which, held, modifiers);
        QApplication::sendEvent(widget, &event);
    };
    send(QEvent::MouseButtonPress, from, button, button);
    for (int step = 1; step <= 8; ++step) send(QEvent::MouseMove, from + gone * step / 8, Qt::NoButton, button);
    send(QEvent::MouseButtonRelease, from + gone, button, Qt::NoButton);
    settle();
}

QWidget* Hand::card(const QString& name) {
    for (auto* card : window_->findChildren<RailCard*>())
        if (card->isVisible() && card->state().name == name) return card;
    return nullptr;
}

QString Hand::line() {
    auto* label = find<QLabel>("lineText");
    return label ? label->text() : QString();
}
