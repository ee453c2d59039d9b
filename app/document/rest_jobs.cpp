#include "app/document/rest_jobs.h"

#include <algorithm>

void RestJobs::insert(Job job) {
    const auto behind = std::find_if(jobs_.begin(), jobs_.end(), [&](const Job& other) { return other.kind > job.kind; });
    jobs_.insert(behind, std::move(job));
}

void RestJobs::post(Rest kind, Work work) {
    drop(kind);
    insert({kind, ++serial_, std::move(work)});
}

void RestJobs::drop(Rest kind) {
    std::erase_if(jobs_, [kind](const Job& job) { return job.kind == kind; });
}

bool RestJobs::waits(Rest kind) const {
    return std::any_of(jobs_.begin(), jobs_.end(), [kind](const Job& job) { return job.kind == kind; });
}

std::optional<RestJobs::Job> RestJobs::take() {
    if (jobs_.empty()) return std::nullopt;
    Job job = std::move(jobs_.front());
    jobs_.erase(jobs_.begin());
    return job;
}

void RestJobs::putBack(const Job& job) {
    if (!waits(job.kind)) insert(job);
}
