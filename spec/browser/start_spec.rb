# frozen_string_literal: true

require_relative "browser_helper"

# The command that anybody begins with, as they run it.
RSpec.describe "bin/start with an empty database of one's own" do
  include Processes

  it "prints the address that opens the house, answers there, and stops all of it when it is stopped" do
    port = free_port
    url = Database.make_empty(Database.name("start"))
    env = {"DATABASE_URL" => url, "PORT" => port.to_s, "YENVO_DEMO" => nil, "YENVO_SECRET" => Processes::SECRET}
    Open3.popen2e(env, "bin/start", pgroup: true) do |_, out, process|
      said = +""
      said << out.readline until said.match?(%r{^http://})
      expect(said).to include("This house is empty. Open it here, within an hour:")
      visit said[%r{^http://\S+}]
      expect(page).to have_field("What it is called")
      Process.kill("TERM", process.pid)
      expect([process.value.exitstatus, answers?("http://127.0.0.1:#{port}")]).to eq([0, false])
    end
  end
end
