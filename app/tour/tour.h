#pragma once
#include <QString>

class MainWindow;

/// Drives the real window as a person would, waits for what it shows, and takes pictures of it.
namespace tour {

/// Lets the window work until evaluation and picture have caught up. False after 60 seconds.
bool settle(MainWindow& window);
/// Saves what the window shows. False if the file can't be written.
bool shoot(MainWindow& window, const QString& path);

}  // namespace tour
