#pragma once
#include <gtest/gtest.h>

#include <QComboBox>
#include <QDir>
#include <QElapsedTimer>
#include <QFile>
#include <QFileInfo>
#include <QImage>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QTemporaryDir>
#include <QTest>
#include <QToolButton>

#include "app/export/export_panel.h"
#include "app/export/export_queue.h"
#include "app/export/export_queue_panel.h"
#include "app/fields/number_field.h"
#include "tests/app/hand.h"

/// The export view of a window, worked by hand.
struct Exporting {
    Hand hand;
    QTemporaryDir folder;
    QString sentence;
    bool fine = false;
    int ended = 0;

    Exporting() {
        hand.click("newSwarm");
        hand.key(Qt::Key_F7);
        QObject::connect(panel(), &ExportPanel::ended, [this](bool f, const QString& s) {
            fine = f;
            sentence = s;
            ++ended;
        });
    }
    ExportQueue& queue() { return *hand.window().findChild<ExportQueue*>(); }
    const ExportJob& job(std::size_t at) { return queue().jobs().at(at); }
    /// Clicks a button of a job's row.
    void press(std::size_t at, const char* button) {
        auto* row = hand.window().findChild<ExportQueuePanel*>()->findChildren<ExportRow*>().at(static_cast<int>(at));
        auto* found = row->findChild<QToolButton*>(button);
        ASSERT_TRUE(found && found->isVisible()) << button;
        QTest::mouseClick(found, Qt::LeftButton);
    }
    ExportPanel* panel() { return hand.find<ExportPanel>("exportPanel"); }
    QLineEdit* path() { return hand.find<QLineEdit>("exportPath"); }
    QString file(const QString& name) const { return folder.filePath(name); }

    QListWidget* list() { return hand.find<QListWidget>("exportKinds"); }
    void clickRow(QListWidgetItem* item, Qt::KeyboardModifiers modifiers = {}) {
        list()->scrollToItem(item);
        QTest::mouseClick(list()->viewport(), Qt::LeftButton, modifiers, list()->visualItemRect(item).center());
    }
    void choose(const QString& id, Qt::KeyboardModifiers modifiers = {}) {
        for (int row = 0; row < list()->count(); ++row)
            if (list()->item(row)->data(Qt::UserRole).toString() == id) clickRow(list()->item(row), modifiers);
        ASSERT_EQ(list()->currentItem()->data(Qt::UserRole).toString(), id);
    }
    QString says(const char* label) { return hand.find<QLabel>(label)->text(); }
    void size(int width, int height, int samples) {
        for (const auto& [name, value] : {std::pair{"exportWidth", width}, {"exportHeight", height}, {"exportSamples", samples}})
            typeInto(name, value);
    }
    void frames(int first, int last) {
        for (const auto& [name, value] : {std::pair{"exportFirst", first}, {"exportLast", last}}) typeInto(name, value);
    }
    void typeInto(const char* name, int value) { hand.typeNumber(name, QString::number(value)); }
    void type(const QString& text) {
        path()->setFocus();
        path()->selectAll();
        QTest::keyClicks(path(), text);
    }
    bool wait(int milliseconds = 60000) {
        const int before = ended;
        QElapsedTimer clock;
        clock.start();
        while (ended == before && clock.elapsed() < milliseconds) QTest::qWait(10);
        return ended > before;
    }
    void start() { QTest::mouseClick(hand.find<QPushButton>("exportStart"), Qt::LeftButton); }
    /// Types the file, starts and waits.
    void write(const QString& name) {
        type(file(name));
        const int before = ended;
        start();
        if (ended == before) {
            ASSERT_TRUE(wait());
        }
    }
};
