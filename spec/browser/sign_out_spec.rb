# frozen_string_literal: true

require_relative "browser_helper"

RSpec.describe "Signing out" do
  it "is a press in the menu; the session is over on the server too, and its stream with it" do
    sign_in("Hollie Banner")
    kept = page.driver.browser.manage.cookie_named("yenvo")[:value]
    stream = Streams::Stream.new(URI(Capybara.app_host), "yenvo=#{kept}")
    Timeout.timeout(8) { nil until stream.heard?(": hello") }
    find("button[aria-label='Hollie Banner, member']").click
    click_button "Sign out"
    expect(page).to have_button("Hollie Banner")
    answer = Net::HTTP.get_response(URI("#{Capybara.app_host}/api/setup"), "cookie" => "yenvo=#{kept}")
    expect(answer.code).to eq("401")
    Timeout.timeout(8) { nil until stream.ended? }
    visit "/worklist"
    expect(page).to have_css("h1", text: "Sign in")
  ensure
    stream&.close
  end
end
