# frozen_string_literal: true

# Rule and kit files against a house elsewhere, over its API, with a token.
RSpec.describe "bin/yenvo with YENVO_URL", :committed do
  include Processes

  before { @address = start_web(Database.url) }

  after do
    stop_all
    FileUtils.remove_entry(folder)
  end

  let(:folder) { Dir.mktmpdir }
  let(:token) { token_of(%w[read rules]) }

  def token_of(scopes) =
    root.tokens.make({"name" => "Files", "scopes" => scopes, "expires_on" => "2026-12-31"}, "maren", cause:)

  def yenvo(*words, url: @address, with: token)
    env = {"DATABASE_URL" => "mysql2://nobody@127.0.0.1:1/none", "YENVO_URL" => url, "YENVO_TOKEN" => with}
    ForkServer.run(*words, env:)
  end

  def file(name, text) = File.join(folder, name).tap { |path| File.write(path, text) }

  def rule(**changes)
    plain = {"format" => "yenvo-rule/1", "record" => "deal"}.merge(survey_rule(**changes.transform_keys(&:to_s)))
    Yenvo::Core::RuleFile.dump(Yenvo::Core::RuleReader.read!(plain))
  end

  it "checks, tries, publishes and exports there" do
    make("deal", "stage" => "survey_booked", "value" => 9)
    good = file("good.yml", rule)
    bad = file("bad.yml", rule(trigger: {"when" => "stage_entered", "stages" => ["nowhere"]}))
    expect(yenvo("check", good)).to match([/good.yml: can be published/, "", 0])
    out, err, code = yenvo("check", bad, good)
    expect([out, code]).to match([/good.yml: can be published/, 1])
    expect(err).to match(/bad.yml: line \d+: trigger.stages.*nowhere/)
    expect(yenvo("try", good)).to match([/1 record looked at; branch 1: 1/, "", 0])
    expect(yenvo("publish", bad, good)[2]).to eq(1)
    expect(db[:rules].count).to eq(0)
    expect(yenvo("publish", good)).to match([/“Survey booked” is published as version 1/, "", 0])
    expect(yenvo("publish", good)[0]).to include("version 2")
    expect(db[:rules].select_map(%i[name state owner])).to eq([["Survey booked", "on", "maren"]])
    kit = File.expand_path("../../demo/kits/11-rigging-job.yml", __dir__)
    expect(yenvo("publish", kit)).to match([/“Rigging job” is published as version 1/, "", 0])
    out, _, code = yenvo("export", "--to", File.join(folder, "out"))
    expect([out.lines.size, code]).to eq([2, 0])
    expect(File.read(File.join(folder, "out", "survey-booked.yml"))).to eq(rule)
    expect(yenvo("check", *Dir[File.join(folder, "out", "*.yml")])[2]).to eq(0)
    expect(yenvo("export", "Rigging job")[0]).to eq(Yenvo::Core::Kits::KitFile.dump(
      Yenvo::Core::Kits::KitFile.parse(File.read(kit))
    ))
    expect(db[:audit].where(what: "rules").count).to eq(2)
  end

  it "says in a sentence what is in the way" do
    good = file("good.yml", rule)
    expect(yenvo("publish", good, with: token_of(%w[read]))).to match(
      ["", /does not let you write and publish rules and kits/, 1]
    )
    expect(yenvo("check", good, with: "yenvo_wrong")).to match(["", /is not known, has been ended/, 1])
    expect(yenvo("check", good, with: nil)).to match(["", /YENVO_TOKEN must be given/, 1])
    expect(yenvo("check", good, url: "http://127.0.0.1:1")).to match(["", /cannot be reached/, 1])
    expect(yenvo("check", good, url: "not an address")).to match(["", /YENVO_URL is no address/, 1])
    expect(yenvo("export", "Nothing")).to match(["", /There is no rule or kit "Nothing"/, 1])
  end
end
