# frozen_string_literal: true

require "mail"

module Demo
  # What people outside write back while the story is lived: to the mail that last reached one of them, each once.
  class Post
    ANSWERS = [
      "Friday suits me. I shall be on the quay at nine.", "Thank you, that was quick. Please go on as you say.",
      "Could it wait until after the regatta? Ring me if not."
    ].freeze
    CLOCK = Struct.new(:now)

    # @param root [Yenvo::Store::Root]
    def initialize(root)
      @root = root
      @answered = []
    end

    # @param now [Time]
    # @param words [String]
    # @param away [Boolean] whether a program answers that they are away
    def answer(now, words, away: false)
      sent = @root.db[:deliveries].where(way: "mail", state: "sent").exclude(record_id: nil)
        .exclude(id: @answered).where(Sequel.like(:to, "%@post.example")).reverse(:id).first or return
      @answered << sent[:id]
      Yenvo::Postbox.new(@root, clock: CLOCK.new(now)).take(letter(sent, now, words, away).to_s)
    end

    private

    def letter(sent, now, words, away)
      to = @root.setup_store.setting("mail_from", nil)
      content = JSON.parse(sent[:content])
      quoted = content["text"].gsub(/^/, "> ")
      name = sent[:to][/\A[^@]+/].split(".").map(&:capitalize).join(" ")
      text = "#{words}\n\nOn #{sent[:made_at].strftime("%-d %b %Y")}, #{to} wrote:\n#{quoted}"
      mail = Mail.new(charset: "UTF-8", from: "#{name} <#{sent[:to]}>", to:, subject: "Re: #{content["subject"]}",
        body: text, date: now)
      mail.message_id = "<#{sent[:id]}@post.example>"
      mail.in_reply_to = "<#{sent[:message_id]}>"
      mail.header["Auto-Submitted"] = "auto-replied" if away
      mail
    end
  end
end
