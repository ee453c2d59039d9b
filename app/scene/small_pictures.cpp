#include "app/scene/small_pictures.h"

SmallPictures::~SmallPictures() {
    {
        const std::lock_guard lock(mutex_);
        stop_ = true;
    }
    progress_.cancel();
    wake_.notify_all();
    if (thread_.joinable()) thread_.join();
}

void SmallPictures::ask(const QString& key, Make make) {
    if (const auto found = made_.find(key); found != made_.end()) {
        QMetaObject::invokeMethod(
            this, [this, key, picture = found->second] { emit made(key, picture); }, Qt::QueuedConnection);
        return;
    }
    if (!asked_.insert(key).second) return;
    {
        const std::lock_guard lock(mutex_);
        waiting_.emplace_back(key, std::move(make));
    }
    wake_.notify_all();
    if (!thread_.joinable()) thread_ = std::thread([this] { work(); });
}

void SmallPictures::forget(const QString& key) {
    made_.erase(key);
    asked_.erase(key);
}

void SmallPictures::keep(const QString& key, const QImage& picture) {
    constexpr std::size_t most = 400;  // of some 20 kilobytes each
    if (made_.size() >= most) {
        for (const auto& [known, image] : made_) asked_.erase(known);
        made_.clear();
    }
    made_[key] = picture;
    emit made(key, QImage(picture));
}

void SmallPictures::work() {
    std::unique_lock lock(mutex_);
    while (true) {
        wake_.wait(lock, [this] { return stop_ || !waiting_.empty(); });
        if (stop_) return;
        const auto [key, make] = std::move(waiting_.front());
        waiting_.pop_front();
        lock.unlock();
        QImage picture;
        try {
            picture = make(progress_);
        } catch (const gswarm::Cancelled&) {
            // The gallery goes.
        } catch (const std::exception&) {
            // A picture that can't be made, as of a kept file that was changed by hand, stays without.
        }
        if (!picture.isNull()) QMetaObject::invokeMethod(this, [this, key = key, picture] { keep(key, picture); });
        lock.lock();
    }
}
