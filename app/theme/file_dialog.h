#pragma once
#include <QString>
#include <QStringList>

class QWidget;

/// Asking for a file. The dialogs only name one: they can't rename, move or delete what they show, which an unlucky drag in a
/// file dialog otherwise does. They begin where one was last, or at `folder`; all are empty if the person changes their mind.
namespace file_dialog {

QString open(QWidget* parent, const QString& title, const QString& folder, const QString& filter = {});
QStringList openSeveral(QWidget* parent, const QString& title, const QString& folder, const QString& filter = {});
/// `suggested` is a whole path, or a name where one was last.
QString save(QWidget* parent, const QString& title, const QString& suggested, const QString& filter = {});

}  // namespace file_dialog
