#pragma once
#include <QString>

class QWidget;

/// Asking for a file. The dialogs only name one: they can't rename, move or delete what they show, which an unlucky drag in a
/// file dialog otherwise does. Both are empty if the person changes their mind.
namespace file_dialog {

QString open(QWidget* parent, const QString& title, const QString& folder, const QString& filter = {});
QString save(QWidget* parent, const QString& title, const QString& suggested, const QString& filter = {});

}  // namespace file_dialog
