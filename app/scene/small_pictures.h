#pragma once
#include <condition_variable>
#include <deque>
#include <functional>
#include <map>
#include <mutex>
#include <QImage>
#include <QObject>
#include <set>
#include <thread>

#include "core/base/progress.h"

/// Makes small pictures beside the window, one after the other as they were asked for.
class SmallPictures : public QObject {
    Q_OBJECT

  public:
    using Make = std::function<QImage(gswarm::Progress&)>;

    using QObject::QObject;
    ~SmallPictures() override;
    /// Each key is made once, and what fails stays without a picture; what is asked for again is on its way, or told again.
    void ask(const QString& key, Make make);
    /// Lets go of one that nobody will ask for again.
    void forget(const QString& key);

  signals:
    /// In the window's thread. Not of pictures that could not be made.
    void made(const QString& key, const QImage& picture);

  private:
    void work();
    void keep(const QString& key, const QImage& picture);

    std::set<QString> asked_;
    std::map<QString, QImage> made_;
    gswarm::Progress progress_;
    std::mutex mutex_;
    std::condition_variable wake_;
    std::deque<std::pair<QString, Make>> waiting_;
    bool stop_ = false;
    std::thread thread_;  ///< from the first question on
};
