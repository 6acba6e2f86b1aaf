# frozen_string_literal: true

require_relative "browser_helper"

RSpec.describe "Signing in" do
  it "is a press on a name of the demo, or an address with a password; what is wrong is said and nothing lost" do
    visit "/rules"
    expect(page).to have_css("h1", text: "Sign in")
    click_button "Maren Oduya"
    expect(page).to have_css("h1", text: "Rules")
    Capybara.reset_sessions!
    visit "/sign-in"
    fill_in "E-mail", with: "wen@fennick.example"
    fill_in "Password", with: "harbour light"
    find_field("Password").send_keys(:enter)
    expect(page).to have_css("[role=alert]", text: "The e-mail address or the password is not right.")
    expect(page).to have_field("E-mail", with: "wen@fennick.example")
    fill_in "Password", with: "harbour lights"
    click_button "Sign in", exact: true
    expect(page).to have_css("h1", text: "Worklist", visible: :all)
  end
end

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
