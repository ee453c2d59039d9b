#include "app/theme/file_dialog.h"

#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QSettings>

namespace {

const char* const lastFolder = "lastFolder";

QString kept(const QString& chosen) {
    if (!chosen.isEmpty()) QSettings().setValue(lastFolder, QFileInfo(chosen).absolutePath());
    return chosen;
}

/// Where one was last; at first the folder that is at hand.
QString start(const QString& folder) {
    const QString last = QSettings().value(lastFolder).toString();
    return !last.isEmpty() && QDir(last).exists() ? last : folder;
}

}  // namespace

namespace file_dialog {

QString open(QWidget* parent, const QString& title, const QString& folder, const QString& filter) {
    return kept(QFileDialog::getOpenFileName(parent, title, start(folder), filter, nullptr, QFileDialog::ReadOnly));
}

QStringList openSeveral(QWidget* parent, const QString& title, const QString& folder, const QString& filter) {
    const QStringList chosen = QFileDialog::getOpenFileNames(parent, title, start(folder), filter, nullptr, QFileDialog::ReadOnly);
    if (!chosen.isEmpty()) kept(chosen.front());
    return chosen;
}

QString save(QWidget* parent, const QString& title, const QString& suggested, const QString& filter) {
    const QFileInfo wish(suggested);
    const QString where = wish.isAbsolute() ? suggested : start(QDir::homePath()) + "/" + suggested;
    return kept(QFileDialog::getSaveFileName(parent, title, where, filter, nullptr, QFileDialog::ReadOnly));
}

}  // namespace file_dialog
