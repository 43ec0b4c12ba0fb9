#include "app/frame_service.hpp"

#include <atomic>
#include <condition_variable>
#include <mutex>
#include <optional>
#include <thread>

#include "app/pictures.hpp"
#include "core/refused.hpp"

namespace aspen::app {

class FrameService::Worker {
  public:
    explicit Worker(FrameService& owner) : owner_(owner), thread_([this] { run(); }) {}
    ~Worker() {
        {
            const std::lock_guard lock(mutex_);
            stop_ = true;
            cancel_ = true;
        }
        wake_.notify_one();
        thread_.join();
    }

    void open(const QString& file) {
        const std::lock_guard lock(mutex_);
        ++generation_;
        file_ = file;
        frame_.reset();
        cancel_ = true;
        wake_.notify_one();
    }
    void request(int frame) {
        const std::lock_guard lock(mutex_);
        frame_ = frame;
        wake_.notify_one();
    }

  private:
    /// Runs a piece of work on the owner's thread, unless another clip was opened meanwhile.
    template <typename Work>
    void tell(int generation, Work work) {
        QMetaObject::invokeMethod(&owner_, [this, generation, work] {
            {
                const std::lock_guard lock(mutex_);
                if (generation != generation_) return;
            }
            work();
        });
    }

    void run() {
        std::unique_ptr<media::VideoReader> reader;
        while (true) {
            std::optional<QString> file;
            std::optional<int> frame;
            int generation = 0;
            {
                std::unique_lock lock(mutex_);
                wake_.wait(lock, [this] { return stop_ || file_ || frame_; });
                if (stop_) return;
                generation = generation_;
                if (file_) {
                    file.swap(file_);
                    cancel_ = false;
                } else {
                    frame.swap(frame_);
                }
            }
            try {
                if (file) {
                    reader.reset();
                    if (!file->isEmpty()) reader = open_reader(*file, generation);
                } else if (reader && frame) {
                    const QImage picture = to_image(reader->picture(*frame));
                    tell(generation, [this, n = *frame, picture] { emit owner_.frame_ready(n, picture); });
                }
            } catch (const media::ReadCancelled&) {
                continue;
            } catch (const std::exception& e) {
                tell(generation, [this, line = QString::fromUtf8(e.what())] { emit owner_.failed(line); });
            }
        }
    }

    std::unique_ptr<media::VideoReader> open_reader(const QString& file, int generation) {
        media::ReadWatch watch{&cancel_, [this, generation, last = 0.0](double share) mutable {
                                   if (share - last < 0.02) return;
                                   last = share;
                                   tell(generation, [this, share] { emit owner_.opening(share); });
                               }};
        auto reader = std::make_unique<media::VideoReader>(file.toStdString(), std::move(watch));
        tell(generation, [this, facts = reader->facts()] { emit owner_.opened(facts); });
        return reader;
    }

    FrameService& owner_;
    std::mutex mutex_;
    std::condition_variable wake_;
    std::optional<QString> file_;
    std::optional<int> frame_;
    int generation_ = 0;
    bool stop_ = false;
    std::atomic<bool> cancel_{false};
    std::thread thread_;
};

FrameService::FrameService(QObject* parent) : QObject(parent), worker_(std::make_unique<Worker>(*this)) {}
FrameService::~FrameService() = default;
void FrameService::open(const QString& file) { worker_->open(file); }
void FrameService::close() { worker_->open({}); }
void FrameService::request(int frame) { worker_->request(frame); }

}  // namespace aspen::app
