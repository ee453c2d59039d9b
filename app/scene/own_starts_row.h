#pragma once
#include <filesystem>
#include <QWidget>

#include "core/edit/kept_start.h"

class QGridLayout;
class QLabel;
class SmallPictures;

/// What the person has kept, as pictures under the gallery of its kind. Not there while nothing is kept; files that can't be
/// used are told in a line and passed over.
class OwnStartsRow : public QWidget {
    Q_OBJECT

  public:
    OwnStartsRow(std::vector<gswarm::StartOf> of, int columns, QWidget* parent);
    /// Looks at the folder again; called as its gallery opens.
    void refresh();

  signals:
    void taken(const std::filesystem::path& path);

  private:
    void askMenu(const std::filesystem::path& path, const QPoint& global);

    std::vector<gswarm::StartOf> of_;
    int columns_;
    QGridLayout* grid_;
    QLabel* troubles_;
    SmallPictures* pictures_;
};
