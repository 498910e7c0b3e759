#include "nets/module/graph_net.h"

#include "nets/nets.h"
#include "registry.h"

#include <onnx/onnx_pb.h>
#include <opencv2/core.hpp>
#include <opencv2/dnn.hpp>
#include <opencv2/imgproc.hpp>

#include <QTemporaryDir>

#include <fstream>

using namespace buttonhole;

namespace
{

/// The same net with weights of 32 bits, which is what OpenCV 4.6 reads.
void widen(const std::string &from, const std::string &to)
{
    onnx::ModelProto model;
    std::ifstream in(from, std::ios::binary);
    QVERIFY(model.ParseFromIstream(&in));
    for (auto &weights : *model.mutable_graph()->mutable_initializer()) {
        if (weights.data_type() != onnx::TensorProto::FLOAT16)
            continue;
        const std::string half = weights.raw_data();
        cv::Mat wide;
        cv::Mat(1, int(half.size() / 2), CV_16F, const_cast<char *>(half.data()))
            .convertTo(wide, CV_32F);
        weights.set_raw_data(wide.data, wide.total() * sizeof(float));
        weights.set_data_type(onnx::TensorProto::FLOAT);
    }
    for (auto &input : *model.mutable_graph()->mutable_input())
        input.mutable_type()->mutable_tensor_type()->set_elem_type(onnx::TensorProto::FLOAT);
    for (auto &output : *model.mutable_graph()->mutable_output())
        output.mutable_type()->mutable_tensor_type()->set_elem_type(onnx::TensorProto::FLOAT);
    std::ofstream out(to, std::ios::binary);
    QVERIFY(model.SerializeToOstream(&out));
}

} // namespace

class TstGraphNet : public QObject
{
    Q_OBJECT

    static constexpr int kSide = 128;
    std::string m_model;
    std::vector<float> m_input;

private Q_SLOTS:
    void initTestCase()
    {
        const auto model = findModel(kSalientModel);
        QVERIFY(model);
        m_model = *model;
        cv::RNG random(3);
        cv::Mat1f noise(3 * kSide, kSide);
        random.fill(noise, cv::RNG::UNIFORM, -0.5, 0.5);
        cv::blur(noise, noise, {9, 9});
        m_input.assign(noise.begin(), noise.end());
    }

    void answersAsOpenCvDoes()
    {
        const QTemporaryDir folder;
        const std::string wide = folder.filePath(QStringLiteral("wide.onnx")).toStdString();
        widen(m_model, wide);
        GraphNet net(m_model, {kSide}, {"output"});
        const auto planes = net.work(m_input, {});
        QCOMPARE(planes.size(), size_t(1));
        QCOMPARE(planes[0].width, kSide);
        QCOMPARE(planes[0].height, kSide);
        auto other = cv::dnn::readNetFromONNX(wide);
        other.setInput(cv::Mat({1, 3, kSide, kSide}, CV_32F, m_input.data()), "input");
        const cv::Mat expected = other.forward("output");
        double most = 0;
        for (size_t i = 0; i < planes[0].values.size(); ++i)
            most = std::max(most, double(std::abs(planes[0].values[i] - expected.ptr<float>()[i])));
        QVERIFY2(most < 1e-3, qPrintable(QString::number(most)));
        QVERIFY(net.work(m_input, {})[0].values == planes[0].values); // room is used again
    }

    void givesWhatLiesWithin()
    {
        const char *inner = "graph_output_cast_6"; // the last of the decoder
        GraphNet net(m_model, {kSide}, {inner, "output"});
        const auto planes = net.work(m_input, {});
        QCOMPARE(planes.size(), size_t(2));
        QCOMPARE(planes[0].channels, 64);
        QCOMPARE(planes[0].width, kSide / 2);
        QVERIFY(*std::max_element(planes[0].values.begin(), planes[0].values.end()) > 0);
    }

    void worksAtSeveralSizesAsAtEachAlone()
    {
        constexpr int kSmaller = 64;
        GraphNet both(m_model, {kSide, kSmaller}, {"output"});
        const std::vector<float> less(m_input.begin(), m_input.begin() + 3 * kSmaller * kSmaller);
        const auto large = both.work(m_input, {});
        const auto small = both.work(less, {});
        QCOMPARE(small[0].width, kSmaller);
        QVERIFY(small[0].values ==
                GraphNet(m_model, {kSmaller}, {"output"}).work(less, {})[0].values);
        QVERIFY(both.work(m_input, {})[0].values == large[0].values); // the room was the other's
        QVERIFY_EXCEPTION_THROWN(both.work({1, 2, 3}, {}), std::exception);
    }

    void stops()
    {
        GraphNet net(m_model, {kSide}, {"output"});
        std::stop_source stop;
        Run run;
        run.stop = stop.get_token();
        stop.request_stop();
        QVERIFY(net.work(m_input, run).empty());
    }

    void refusesWhatIsNoNet()
    {
        const QTemporaryDir folder;
        const std::string file = folder.filePath(QStringLiteral("broken.onnx")).toStdString();
        std::ofstream(file) << "no net at all";
        QVERIFY_EXCEPTION_THROWN(GraphNet(file, {kSide}, {"output"}), std::exception);
        QVERIFY_EXCEPTION_THROWN(GraphNet(m_model, {kSide}, {"nowhere"}), std::exception);
    }
};

BUTTONHOLE_TEST(TstGraphNet)

#include "tst_graph_net.moc"
