// A module of its own, loaded when first needed: see docs/decisions.md. It uses only header parts
// of the core.
#include "nets/nets.h"

#include "nets/module/graph_net.h"
#include "nets/module/unet.h"

#include <opencv2/dnn.hpp>
#include <opencv2/imgproc.hpp>
#include <opencv2/objdetect.hpp>

#include <sys/resource.h>
#include <unistd.h>

#include <condition_variable>
#include <exception>
#include <map>
#include <memory>
#include <mutex>
#include <thread>
#include <tuple>

namespace buttonhole
{

namespace
{

constexpr int kKinds = 80;
constexpr int kBins = 11; ///< distances to a side, in strides, are distributions over 0..10
constexpr float kMostOverlap = 0.5F;

Error damaged(const std::string &file, const std::exception &problem)
{
    return {ErrorKind::Damaged, file, problem.what()};
}

cv::Mat matOf(const NetPicture &picture)
{
    return {picture.height, picture.width, CV_8UC3, const_cast<uint8_t *>(picture.rgb.data())};
}

/// A net by its file, with the lock under which it works.
struct LoadedNet {
    std::mutex mutex;
    cv::dnn::Net net;
};

LoadedNet &netOf(const std::string &model)
{
    static std::mutex mutex; // guards `nets`
    static std::map<std::string, LoadedNet> nets;
    const std::scoped_lock lock(mutex);
    return nets[model];
}

std::vector<cv::Mat> run(LoadedNet &loaded, const std::string &model, const cv::Mat &blob,
                         const std::vector<cv::String> &outputs)
{
    const std::scoped_lock lock(loaded.mutex);
    if (loaded.net.empty())
        loaded.net = cv::dnn::readNetFromONNX(model);
    loaded.net.setInput(blob, "input");
    std::vector<cv::Mat> out;
    loaded.net.forward(out, outputs);
    for (cv::Mat &each : out)
        each = each.clone(); // the net's own memory is used again
    return out;
}

/// How a picture lies in the detector's square.
struct Letterbox {
    float scale = 1;
    float left = 0;
    float top = 0;
};

cv::Mat letterboxed(const NetPicture &picture, Letterbox &box)
{
    box.scale = float(kDetectorSide) / float(std::max(picture.width, picture.height));
    const int w = std::max(1, int(std::lround(float(picture.width) * box.scale)));
    const int h = std::max(1, int(std::lround(float(picture.height) * box.scale)));
    box.left = float((kDetectorSide - w) / 2);
    box.top = float((kDetectorSide - h) / 2);
    cv::Mat square(kDetectorSide, kDetectorSide, CV_8UC3, cv::Scalar::all(114));
    cv::Mat inner = square(cv::Rect(int(box.left), int(box.top), w, h));
    cv::resize(matOf(picture), inner, inner.size(), 0, 0, cv::INTER_AREA);
    cv::Mat bgr;
    cv::cvtColor(square, bgr, cv::COLOR_RGB2BGR);
    cv::Mat input;
    bgr.convertTo(input, CV_32FC3);
    input -= cv::Scalar(103.53, 116.28, 123.675);
    input /= cv::Scalar(57.375, 57.12, 58.395);
    return cv::dnn::blobFromImage(input);
}

/// The expected value of the distribution in `kBins` logits, `step` floats apart.
float expectedOf(const float *logits, size_t step)
{
    float top = logits[0];
    for (size_t i = 1; i < kBins; ++i)
        top = std::max(top, logits[i * step]);
    float sum = 0;
    float weighted = 0;
    for (size_t i = 0; i < kBins; ++i) {
        const float e = std::exp(logits[i * step] - top);
        sum += e;
        weighted += e * float(i);
    }
    return weighted / sum;
}

void decodeHead(const cv::Mat &head, float leastScore, std::vector<NetBox> &out)
{
    const int side = head.size[2];
    const float stride = float(kDetectorSide) / float(side);
    const size_t plane = size_t(side) * size_t(side);
    const auto *data = head.ptr<float>();
    for (size_t cell = 0; cell < plane; ++cell) {
        const float *logits = data + cell;
        int kind = 0;
        for (int k = 1; k < kKinds; ++k)
            if (logits[size_t(k) * plane] > logits[size_t(kind) * plane])
                kind = k;
        const float score = 1 / (1 + std::exp(-logits[size_t(kind) * plane]));
        if (score < leastScore)
            continue;
        const float x = (float(cell % size_t(side)) + 0.5F) * stride;
        const float y = (float(cell / size_t(side)) + 0.5F) * stride;
        float away[4]; // left, top, right, bottom
        for (size_t k = 0; k < 4; ++k)
            away[k] = stride * expectedOf(logits + (kKinds + k * kBins) * plane, plane);
        out.push_back({x - away[0], y - away[1], x + away[2], y + away[3], score, kind});
    }
}

Result<std::vector<NetBox>> detect(const std::string &model, const NetPicture &picture,
                                   float leastScore)
{
    try {
        Letterbox box;
        const cv::Mat blob = letterboxed(picture, box);
        std::vector<NetBox> all;
        for (const cv::Mat &head : run(netOf(model), model, blob, {"head8", "head16", "head32"}))
            decodeHead(head, leastScore, all);
        std::vector<cv::Rect2d> rects;
        std::vector<float> scores;
        std::vector<int> kinds;
        for (const NetBox &each : all) {
            rects.emplace_back(each.x0, each.y0, each.x1 - each.x0, each.y1 - each.y0);
            scores.push_back(each.score);
            kinds.push_back(each.kind);
        }
        std::vector<int> kept;
        cv::dnn::NMSBoxes(rects, scores, leastScore, kMostOverlap, kept);
        std::vector<NetBox> out;
        for (const int i : kept) {
            NetBox each = all[size_t(i)];
            const auto across = [&](float v, float from, int most) {
                return std::clamp((v - from) / box.scale, 0.0F, float(most));
            };
            out.push_back({across(each.x0, box.left, picture.width),
                           across(each.y0, box.top, picture.height),
                           across(each.x1, box.left, picture.width),
                           across(each.y1, box.top, picture.height), each.score, each.kind});
        }
        return out;
    } catch (const std::exception &problem) {
        return damaged(model, problem);
    }
}

/// U-Nets that nobody works with just now.
class SpareNets
{
public:
    using Kind = std::tuple<std::string, int, int>; ///< model, planes, side
    std::unique_ptr<UNet> take(const Kind &kind)
    {
        {
            const std::scoped_lock lock(m_mutex);
            auto &spare = m_spare[kind];
            if (!spare.empty()) {
                auto net = std::move(spare.back());
                spare.pop_back();
                return net;
            }
        }
        return std::make_unique<UNet>(std::get<0>(kind), std::get<1>(kind), std::get<2>(kind));
    }
    void giveBack(const Kind &kind, std::unique_ptr<UNet> net)
    {
        const std::scoped_lock lock(m_mutex);
        m_spare[kind].push_back(std::move(net));
    }

private:
    std::mutex m_mutex;
    std::map<Kind, std::vector<std::unique_ptr<UNet>>> m_spare;
};

Result<std::vector<float>> coverage(const std::string &model, const std::vector<float> &input,
                                    int planes, int side)
{
    static SpareNets nets;
    try {
        const SpareNets::Kind kind{model, planes, side};
        auto net = nets.take(kind);
        auto out = net->coverage(input);
        nets.giveBack(kind, std::move(net));
        return out;
    } catch (const std::exception &problem) {
        return damaged(model, problem);
    }
}

/// Does some work on a thread of its own, whose helpers oneDNN's become: all of them far behind the
/// window. Throws what it throws.
template <class Work>
void farBehind(const Work &work)
{
    std::exception_ptr problem;
    std::thread([&] {
        constexpr int kFarBehind = 15;
        (void)setpriority(PRIO_PROCESS, id_t(gettid()), kFarBehind); // refused: it stays
        try {
            work();
        } catch (...) {
            problem = std::current_exception();
        }
    }).join();
    if (problem)
        std::rethrow_exception(problem);
}

/// A large net, let go when nobody has asked it for a while.
class RestingNet
{
public:
    Result<std::vector<float>> work(const std::string &model, const std::vector<float> &input,
                                    const Run &run)
    {
        const std::scoped_lock lock(m_mutex);
        std::vector<GraphNet::Plane> planes;
        farBehind([&] {
            if (run.stopped())
                return;
            if (!m_net)
                m_net = std::make_unique<GraphNet>(
                    model, std::vector<int>{kSalientSide, kSalientDraftSide},
                    std::vector<std::string>{"output"});
            planes = m_net->work(input, run);
        });
        m_rest = std::jthread([this](const std::stop_token &asked) { letGo(asked); });
        if (planes.empty())
            return Error{ErrorKind::Cancelled, model, {}};
        return std::move(planes.front().values);
    }

private:
    /// Unless it is asked again before that.
    void letGo(const std::stop_token &asked)
    {
        std::mutex own;
        std::unique_lock waiting(own);
        std::condition_variable_any never;
        if (never.wait_for(waiting, asked, std::chrono::seconds(kSalientRestS),
                           [&] { return asked.stop_requested(); }))
            return;
        if (const std::unique_lock lock(m_mutex, std::try_to_lock); lock)
            m_net.reset();
    }

    std::mutex m_mutex; // guards all below
    std::unique_ptr<GraphNet> m_net;
    std::jthread m_rest;
};

Result<std::vector<float>> salient(const std::string &model, const NetPicture &picture, int side,
                                   const Run &run)
{
    static RestingNet net;
    try {
        cv::Mat square;
        cv::resize(matOf(picture), square, {side, side}, 0, 0,
                   std::max(picture.width, picture.height) > side ? cv::INTER_AREA
                                                                  : cv::INTER_LINEAR);
        const cv::Mat blob = cv::dnn::blobFromImage(square, 1.0 / 256, {}, cv::Scalar::all(128));
        const auto *values = blob.ptr<float>();
        return net.work(model, {values, values + blob.total()}, run);
    } catch (const std::exception &problem) {
        return damaged(model, problem);
    }
}

Result<std::vector<Rect>> cascade(const std::string &file, const NetPicture &picture, int leastSide,
                                  double leastWeight)
{
    try {
        cv::CascadeClassifier classifier;
        if (!classifier.load(file))
            return Error{ErrorKind::Damaged, file, "it is not a cascade"};
        cv::Mat grey;
        cv::cvtColor(matOf(picture), grey, cv::COLOR_RGB2GRAY);
        cv::equalizeHist(grey, grey);
        std::vector<cv::Rect> found;
        std::vector<int> stages;
        std::vector<double> weights;
        classifier.detectMultiScale(grey, found, stages, weights, 1.1, 6, 0, {leastSide, leastSide},
                                    {}, true);
        std::vector<Rect> out;
        for (size_t i = 0; i < found.size(); ++i)
            if (weights[i] >= leastWeight)
                out.push_back({found[i].x, found[i].y, found[i].br().x, found[i].br().y});
        return out;
    } catch (const std::exception &problem) {
        return damaged(file, problem);
    }
}

constexpr NetsApi kApi{detect, salient, coverage, cascade};

} // namespace

} // namespace buttonhole

extern "C" __attribute__((visibility("default"))) const buttonhole::NetsApi *buttonholeNets()
{
    return &buttonhole::kApi;
}
