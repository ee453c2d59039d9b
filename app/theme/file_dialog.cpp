#include "app/theme/file_dialog.h"

#include <QFileDialog>

namespace file_dialog {

QString open(QWidget* parent, const QString& title, const QString& folder, const QString& filter) {
    return QFileDialog::getOpenFileName(parent, title, folder, filter, nullptr, QFileDialog::ReadOnly);
}

QString save(QWidget* parent, const QString& title, const QString& suggested, const QString& filter) {
    return QFileDialog::getSaveFileName(parent, title, suggested, filter, nullptr, QFileDialog::ReadOnly);
}

}  // namespace file_dialog
