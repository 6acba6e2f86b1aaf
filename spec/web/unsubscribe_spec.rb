# frozen_string_literal: true

RSpec.describe "Stopping mails by one press" do
  def token(person = "hollie", kind = "given") = root.own_mail.token(person, kind)
  def way(kind) = root.schema.person("hollie").told_by(kind)

  # What a program that reads mail sends (RFC 8058): no cookie, no token of a page, a form of one field.
  def press(token)
    clear_cookies
    post "/unsubscribe/#{token}", {"List-Unsubscribe" => "One-Click"}
    root.forget
    last_response.status
  end

  before do
    told = {"given" => "mail", "stuck" => "daily", "job" => "daily"}
    Yenvo::Store::OwnChanges.new(root).save_own("hollie", {"told" => told}, cause: cause("hollie"))
    root.forget
  end

  it "stops those of one kind, twice as well as once, and leaves all else" do
    expect(press(token)).to eq(200)
    epochs = db[:epochs].count
    3.times { expect(press(token)).to eq(200) }
    expect(db[:epochs].count).to eq(epochs)
    expect([way("given"), way("stuck")]).to eq(%w[bell daily])
  end

  it "stops the daily mail" do
    expect(press(token("hollie", Yenvo::Store::OwnMail::DAILY))).to eq(200)
    expect([way("given"), way("stuck"), way("job")]).to eq(%w[mail bell bell])
    expect(db[:people].where(key: "hollie").get(:daily_due_at)).to be_nil
  end

  it "is not guessed or made from another, and only looked up it stops nothing" do
    plain, signed = token.split(".")
    other = Base64.urlsafe_encode64("osk\ngiven", padding: false)
    ["", "x", "x.y", "#{plain}.#{"0" * 32}", "#{other}.#{signed}", "#{plain}.", "é.é"].each do |wrong|
      expect(press(URI.encode_www_form_component(wrong))).to eq(404)
    end
    get "/unsubscribe/#{token}"
    root.forget
    expect([last_response.status, way("given")]).to eq([200, "mail"])
  end
end
