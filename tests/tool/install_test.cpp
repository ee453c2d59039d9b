// Installed into a folder of its own, both programs start from there and open a demo; what the desktop reads is sound.
#include <gtest/gtest.h>

#include "tests/tool/running.h"

using namespace running;

namespace {

const fs::path& prefix() {
    static const fs::path where = [] {
        const fs::path place = folder() / "installed";
        const Outcome made = shell("cmake --install " GSWARM_BUILD " --prefix '" + place.string() + "'");
        EXPECT_EQ(made.code, 0) << made.error;
        return place;
    }();
    return where;
}

}  // namespace

TEST(Install, TheToolStartsFromThereAndOpensADemo) {
    const std::string bin = (prefix() / "bin/gswarm").string();
    EXPECT_EQ(shell("cd / && '" + bin + "' --version").code, 0);
    const Outcome valid = shell("cd / && '" + bin + "' validate '" + (prefix() / "share/gilded-swarm/demo/kelp.gswarm").string() + "'");
    EXPECT_EQ(valid.code, 0) << valid.error;
}

TEST(Install, TheDesktopFindsWhatItReads) {
    const fs::path share = prefix() / "share";
    const std::string id = "net.gildedswarm.GildedSwarm";
    for (const char* file : {"doc/gilded-swarm/README.md", "doc/gilded-swarm/guide/first-swarm.md", "man/man1/gswarm.1"})
        EXPECT_TRUE(fs::exists(share / file)) << file;
    if (!GSWARM_HAS_APP) return;
    for (const std::string& file : {"icons/hicolor/scalable/apps/" + id + ".svg", "mime/packages/" + id + ".xml",
                                    "thumbnailers/" + id + ".thumbnailer", std::string("man/man1/gilded-swarm.1")})
        EXPECT_TRUE(fs::exists(share / file)) << file;
    const Outcome entry = shell("desktop-file-validate '" + (share / "applications" / (id + ".desktop")).string() + "'");
    EXPECT_EQ(entry.code, 0) << entry.out << entry.error;
    const Outcome told = shell("appstreamcli validate --no-net '" + (share / "metainfo" / (id + ".metainfo.xml")).string() + "'");
    EXPECT_EQ(told.code, 0) << told.out << told.error;
    // The type of a project is known by its name and by how it begins.
    const Outcome types = shell("update-mime-database '" + (share / "mime").string() + "'");
    EXPECT_EQ(types.code, 0) << types.error;
    EXPECT_NE(contentOf(share / "mime/globs2").find("application/x-gilded-swarm:*.gswarm"), std::string::npos);
    // The thumbnailer's own words make a picture.
    const std::string picture = (folder() / "thumbnail.png").string();
    const std::string words = contentOf(share / "thumbnailers" / (id + ".thumbnailer"));
    std::string exec = words.substr(words.find("\nExec=") + 6);
    exec = exec.substr(0, exec.find('\n'));
    const auto put = [&](const std::string& code, const std::string& value) {
        for (auto at = exec.find(code); at != std::string::npos; at = exec.find(code)) exec.replace(at, 2, value);
    };
    put("%i", "'" + (share / "gilded-swarm/demo/reef-sign.gswarm").string() + "'"), put("%o", "'" + picture + "'"), put("%s", "32");
    EXPECT_EQ(shell("PATH='" + (prefix() / "bin").string() + "':$PATH " + exec).code, 0) << exec;
    EXPECT_TRUE(contentOf(picture).starts_with("\x89PNG"));
}

TEST(Install, TheWindowStartsFromThereAndOpensADemo) {
    if (!GSWARM_HAS_APP) GTEST_SKIP() << "built without the window";
    const fs::path demo = prefix() / "share/gilded-swarm/demo/urchin.gswarm";
    // Its title tells that the project is open; the display has nothing else on it.
    const std::string script = "cd / && HOME='" + folder().string() + "' timeout 60 xvfb-run --auto-servernum sh -c \"'" +
                               (prefix() / "bin/gilded-swarm").string() + "' '" + demo.string() +
                               "' & window=\\$!; for k in 1 2 3 4 5 6 7 8 9 10 11 12 13 14 15; do sleep 1; xwininfo -root -tree | grep -q "
                               "'urchin.*Gilded Swarm' && break; done; xwininfo -root -tree; kill \\$window\"";
    const Outcome run = shell(script);
    EXPECT_NE(run.out.find("urchin"), std::string::npos) << run.out << run.error;
}
