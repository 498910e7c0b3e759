#include "window_driver.h"
#include <QApplication>
#include <QTemporaryDir>
#include <QComboBox>
using namespace buttonhole;
using namespace buttonhole::test;
int main(int argc,char**argv){QApplication app(argc,argv);QTemporaryDir t;WindowDriver d(t.path(),{1280,800});
 d.open(QStringLiteral(BUTTONHOLE_DEMO "/button-jar.jpg"));
 auto click=[&](double x,double y){d.hover(x,y);QTest::mouseClick(&d.canvas(),Qt::LeftButton,{},d.at(x,y));};
 d.key(Qt::Key_5);click(388,1590);d.key(Qt::Key_4);click(284,726);d.key(Qt::Key_1);d.paint({{500,900},{520,930}});
 d.session().select({app::TicketLine::Kind::Step,d.session().take()->keeps[0].id,d.session().take()->keeps[0].steps.back().id});d.settle();
 d.window().grab().save(QStringLiteral("/tmp/s1.png"));
 d.session().select({app::TicketLine::Kind::Keep,d.session().take()->keeps[0].id});d.settle();QTest::qWait(500);
 d.window().grab().save(QStringLiteral("/tmp/s2.png"));
}
