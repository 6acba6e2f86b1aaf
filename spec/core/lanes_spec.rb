# frozen_string_literal: true

require "tmpdir"
require_relative "../lanes/command"

# How bin/test runs: what stands in docs/testing.md.
RSpec.describe "bin/test" do
  # A project with one spec file a lane.
  # @return [Array(String, Integer)] what it printed, and its exit code
  def run(specs, *options)
    Dir.mktmpdir do |folder|
      FileUtils.mkdir_p(File.join(folder, "tmp/lanes"))
      FileUtils.mkdir_p(File.join(folder, "spec/lanes"))
      %w[recorder reach].each { |name| FileUtils.cp("spec/lanes/#{name}.rb", File.join(folder, "spec/lanes")) }
      specs.each { |name, text| File.write(File.join(folder, "spec", name), "RSpec.describe('It') { #{text} }") }
      write_command(folder, options)
      out, status = Open3.capture2e({"TEST_LANE" => nil}, RbConfig.ruby, File.join(folder, "run.rb"), chdir: folder)
      [out.gsub(/\e\[\d+m/, ""), status.exitstatus]
    end
  end

  # The lanes alone: no database, and no lint.
  def write_command(folder, options)
    File.write(File.join(folder, "run.rb"), <<~RUBY)
      require "bundler/setup"
      require #{File.expand_path("spec/lanes/command").inspect}
      class Lanes::Lane
        def start_database = ""
      end
      command = Lanes::Command.new(#{options.inspect})
      def command.run_here = run_files(all_files, lint: false)
      Lanes::Command.send(:remove_const, :FOLDER)
      Lanes::Command::FOLDER = #{folder.inspect}
      exit command.run_here
    RUBY
  end

  it "adds up its lanes, and closes as RSpec does" do
    out, code = run({"one_spec.rb" => "it('a') { }; it('b') { }", "two_spec.rb" => "it('c') { }"}, "--seed", "7")
    expect([out.lines.last, code]).to eq(["3 examples, 0 failures\n", 0])
    expect(out).to match(/^Finished in \d+ s \(lane 1 \d+ s, lane 2 \d+ s\), randomized with seed 7$/)
  end

  it "is red when either lane is, and names at the end what is red, with its lane" do
    ["one_spec.rb", "two_spec.rb"].each do |bad|
      specs = {"one_spec.rb" => "it('a') { }", "two_spec.rb" => "it('b') { }"}
      out, code = run(specs.merge(bad => "it('breaks') { expect(1).to eq(2) }"))
      expect([out.lines.last, code]).to eq(["2 examples, 1 failure\n", 1])
      expect(out).to match(%r{^Red:\n  bin/test \./spec/#{bad}:1 # lane [12]: It breaks$}).and include("expected: 2")
    end
  end

  it "is red when a lane breaks off, or a file cannot be read" do
    out, code = run({"one_spec.rb" => "it('a') { exit!(0) }", "two_spec.rb" => "it('b') { }"})
    expect([out.lines.last, code]).to eq(["1 example, 0 failures\n", 1])
    expect(out).to match(/^Lane [12] broke off/)
    out, code = run({"one_spec.rb" => "nobody_knows_this", "two_spec.rb" => "it('b') { }"})
    expect([out.lines.last, code]).to eq(["1 example, 0 failures, 1 error occurred outside of examples\n", 1])
    expect(out).to include("nobody_knows_this").and match(/lane [12]: see/)
  end
end

RSpec.describe Lanes::Shares do
  it "shares the files out by the times of the last run, else of the one that is kept, else by their length" do
    Dir.mktmpdir do |folder|
      %w[spec/lanes tmp/lanes].each { |path| FileUtils.mkdir_p(File.join(folder, path)) }
      %w[a b c d].each_with_index { |name, i| File.write(File.join(folder, name), "\n" * (100 + i)) }
      File.write(File.join(folder, described_class::KEPT), JSON.generate("a" => 1, "b" => 9))
      described_class.new(folder).note("a" => 10.0, "gone" => 5.0)
      # c and d have no times, and count some two seconds each.
      expect(described_class.new(folder).of(%w[a b c d], 2)).to contain_exactly(%w[a c], %w[b d])
      expect(JSON.parse(File.read(File.join(folder, described_class::HERE)))).to eq("a" => 10.0, "b" => 9)
      expect(described_class.new(folder).of(%w[a], 2)).to eq([%w[a]])
    end
  end
end

RSpec.describe Lanes::Changed do
  def specs(*changed, reach: {"spec/store/kits_spec.rb" => %w[lib/yenvo/store/kits/kits.rb lib/yenvo/core/text.rb]})
    all = %w[spec/core/layout_spec.rb spec/store/kits_spec.rb spec/web/rules_spec.rb spec/browser/kits_spec.rb]
    texts = {"spec/web/rules_spec.rb" => "Yenvo::Core::Vocabulary.words"}
    described_class.new(all, reach:, text: ->(path) { texts.fetch(path, "") }).specs(changed)
  end

  let(:all) { %w[spec/core/layout_spec.rb spec/store/kits_spec.rb spec/web/rules_spec.rb spec/browser/kits_spec.rb] }

  it "takes the specs that went through a file, and those that name its class" do
    expect(specs("lib/yenvo/core/text.rb")).to eq(%w[spec/store/kits_spec.rb spec/core/layout_spec.rb])
    expect(specs("lib/yenvo/core/vocabulary.rb")).to eq(%w[spec/web/rules_spec.rb spec/core/layout_spec.rb])
    expect(specs("spec/web/rules_spec.rb")).to eq(%w[spec/web/rules_spec.rb spec/core/layout_spec.rb])
    expect(specs("README.md")).to eq(%w[spec/core/layout_spec.rb])
  end

  it "takes the browser's for what stands in pages" do
    expect(specs("ui/src/pages/KitPage.vue")).to eq(%w[spec/browser/kits_spec.rb spec/core/layout_spec.rb])
  end

  it "takes all for what all rest on, and where no whole run has said what reaches what" do
    %w[spec/support/database.rb db/migrations/001.rb Gemfile.lock demo/yard.yml].each do |path|
      expect(specs(path)).to eq(all)
    end
    expect(specs("README.md", reach: {})).to eq(all)
  end
end
