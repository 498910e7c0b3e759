#include "matting/edge_net.h"

#include "base/memo.h"
#include "matting/edge_band.h"
#include "nets/nets.h"

#include <opencv2/imgproc.hpp>
#include <xxhash.h>

#include <array>

namespace buttonhole
{

namespace
{

constexpr int kPlanes = 17 + int(kSideEvidence.size());
constexpr size_t kArea = size_t(EdgeView::kSide) * EdgeView::kSide;

/// Fills one plane of the input after the other. Factors bring values to about -1..1; they are
/// those of models/training.
class Planes
{
public:
    explicit Planes(std::vector<float> &to) : m_to(to) { m_to.reserve(kPlanes * kArea); }
    void add(const cv::Mat1f &plane) { m_to.insert(m_to.end(), plane.begin(), plane.end()); }
    void addColours(const cv::Mat3f &colours)
    {
        std::array<cv::Mat1f, 3> planes;
        cv::split(colours, planes.data());
        for (const cv::Mat1f &plane : planes)
            add(plane);
    }

private:
    std::vector<float> &m_to;
};

cv::Mat1f logitOf(const cv::Mat1f &share)
{
    constexpr float kDoubt = 0.02F;
    cv::Mat1f out(share.size());
    for (int y = 0; y < out.rows; ++y)
        for (int x = 0; x < out.cols; ++x) {
            const float own = std::clamp(share(y, x), kDoubt, 1 - kDoubt);
            out(y, x) = std::log(own / (1 - own));
        }
    return out;
}

cv::Mat meansRound(const cv::Mat &of, int radius)
{
    cv::Mat out;
    const int side = 2 * radius + 1;
    cv::boxFilter(of, out, CV_32F, {side, side}, {-1, -1}, true, cv::BORDER_CONSTANT);
    return out;
}

/// How pixels differ from the mean colour of one side round about.
cv::Mat3f unlikeSide(const EdgeView &view, float side, int radius)
{
    constexpr float kLeast = 1e-3F;
    const float wrongBy = std::max(view.wrongByPx, 2.0F);
    cv::Mat1f weight(view.depth.size());
    cv::Mat3f weighted(view.lab.size());
    for (int y = 0; y < weight.rows; ++y)
        for (int x = 0; x < weight.cols; ++x) {
            const float sure = std::clamp((side * view.depth(y, x) / wrongBy + 1) / 2, 0.0F, 1.0F);
            weight(y, x) = sure * sure;
            weighted(y, x) = weight(y, x) * view.lab(y, x);
        }
    const cv::Mat1f all = meansRound(weight, radius);
    const cv::Mat3f mean = meansRound(weighted, radius);
    cv::Mat3f out(view.lab.size());
    for (int y = 0; y < out.rows; ++y)
        for (int x = 0; x < out.cols; ++x) {
            const cv::Vec3f &own = view.lab(y, x);
            out(y, x) = own - (mean(y, x) + kLeast * own) / (all(y, x) + kLeast);
        }
    return out;
}

std::vector<float> planesOf(const EdgeView &view)
{
    std::vector<float> out;
    Planes planes(out);
    cv::Mat3f lab(view.lab - cv::Scalar(0.6, 0, 0));
    cv::multiply(lab, cv::Scalar(3, 6, 6), lab);
    planes.addColours(lab);
    planes.add(cv::Mat1f(cv::max(cv::min(view.depth, 16.0F), -16.0F) / 8));
    planes.add(cv::Mat1f(view.depth.size(), view.wrongByPx / 8));
    for (const cv::Mat1f &share : view.shares)
        planes.add(cv::Mat1f(logitOf(share) / 3));
    for (const float side : {1.0F, -1.0F})
        for (const int radius : {5, 14})
            planes.addColours(cv::Mat3f(unlikeSide(view, side, radius) * 6));
    return out;
}

using Answer = std::vector<float>;

/// Null where the net has none.
std::shared_ptr<const Answer> answerOf(const NetsApi &nets, const std::string &model,
                                       const std::vector<float> &planes)
{
    auto answer = nets.coverage(model, planes, kPlanes, EdgeView::kSide);
    return answer ? std::make_shared<const Answer>(std::move(*answer)) : nullptr;
}

} // namespace

std::optional<cv::Mat1f> coverageOf(const EdgeView &view)
{
    // Most of an edge stays as it was when a stroke changes its mask, and what is seen asks for the
    // same edge more than once: its neighbours, its spill, its stitch.
    constexpr size_t kMostAnswers = 768; // 27 MB
    static Memo answers(kMostAnswers);
    const auto nets = loadNets();
    const auto model = findModel(kEdgeModel);
    if (!nets || !model)
        return std::nullopt;
    const std::vector<float> planes = planesOf(view);
    const auto answer = std::static_pointer_cast<const Answer>(
        answers.find(XXH3_64bits(planes.data(), planes.size() * sizeof(float)),
                     [&]() -> Memo::Value { return answerOf(**nets, *model, planes); }));
    if (!answer)
        return std::nullopt;
    cv::Mat1f out(EdgeView::kSide, EdgeView::kSide);
    std::copy(answer->begin(), answer->end(), out.begin());
    return out;
}

Result<void> softEdgesReady()
{
    const auto nets = loadNets();
    if (!nets)
        return nets.error();
    const auto model = findModel(kEdgeModel);
    if (!model)
        return model.error();
    return {};
}

} // namespace buttonhole
