# frozen_string_literal: true

require "open3"
require "rbconfig"

RSpec.describe "The boundary of core" do
  it "loads no database, no web server and no driver with it" do
    script = <<~RUBY
      require "yenvo/core"
      Yenvo::LOADER.eager_load_dir(File.expand_path("lib/yenvo/core"))
      print $LOADED_FEATURES.grep(/sequel|sinatra|mysql2|rack|puma|rodauth/).join("\n")
    RUBY
    out, err, status = Open3.capture3(RbConfig.ruby, "-Ilib", "-e", script)
    expect([status.success?, err, out]).to eq([true, "", ""])
  end

  it "reads no clock, no chance and no environment, and knows no other room" do
    used =
      Dir["lib/yenvo/core/**/*.rb"].flat_map do |path|
        File.readlines(path).grep_v(/^\s*#/)
          .grep(/Time\.now|Date\.today|DateTime\.now|\brand\b|Random|ENV\b|Process\.clock|Store::|Engine::|Web::/)
          .map { |line| "#{path}: #{line.strip}" }
      end
    expect(used).to be_empty
  end
end
