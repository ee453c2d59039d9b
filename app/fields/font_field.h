#pragma once
#include <QComboBox>

/// Chooses an installed font family from a list in which each shows itself; what is typed searches anywhere in their names. The
/// font that ships with the program comes first.
class FontField : public QComboBox {
    Q_OBJECT

  public:
    explicit FontField(QWidget* parent);
    /// Leaves what is being typed alone.
    void show(const QString& family);

  signals:
    /// A family of the list, or what was typed for one.
    void taken(const QString& family);
};
